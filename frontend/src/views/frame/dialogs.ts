/** The dialogs of a plan that is edited, loaded together. */
export { default as BackDialog } from './BackDialog.vue'
export { default as ConflictDialog } from './ConflictDialog.vue'
export { default as SaveDialog } from './SaveDialog.vue'
