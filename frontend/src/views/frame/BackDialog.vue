<script setup lang="ts">
/** Asks before an edit is given up for the revision that it began with. */
defineProps<{ modelValue: boolean; number: number }>()
const emit = defineEmits<{ 'update:modelValue': [open: boolean]; back: [] }>()

function back(): void {
  emit('back')
  emit('update:modelValue', false)
}
</script>

<template>
  <ElDialog
    :model-value="modelValue"
    :title="`Back to r${number}?`"
    width="420px"
    align-center
    data-testid="back"
    @update:model-value="emit('update:modelValue', $event)"
  >
    <p>The plan is shown as r{{ number }} has it. Undo brings your edit back.</p>
    <template #footer>
      <ElButton @click="emit('update:modelValue', false)">Stay</ElButton>
      <ElButton type="primary" @click="back">Go back</ElButton>
    </template>
  </ElDialog>
</template>
