<script setup lang="ts">
import {
  computed,
  defineAsyncComponent,
  onBeforeUnmount,
  onMounted,
  ref,
  shallowRef,
  watch,
} from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { loadHints } from '@/help/hints'
import { useChecks } from '@/stores/checks'
import { usePlan } from '@/plan/store'
import { useOnce } from '@/ui/once'
import ProblemNote from '@/ui/ProblemNote.vue'

import { missingIn } from './address'
import TopBar from './TopBar.vue'
import { useArrival } from './useArrival'
import { VIEWS } from './views'

/** Dialogs are loaded with the first edit: until then there is nothing to save or to give up. */
const dialogs = () => import('./dialogs')
const BackDialog = defineAsyncComponent(async () => (await dialogs()).BackDialog)
const SaveDialog = defineAsyncComponent(async () => (await dialogs()).SaveDialog)
const ConflictDialog = defineAsyncComponent(async () => (await dialogs()).ConflictDialog)

const PaletteDialog = defineAsyncComponent(() => import('./PaletteDialog.vue'))
const KeysDialog = defineAsyncComponent(() => import('./KeysDialog.vue'))

/** What every view of a plan stands in: opening, the bar, keys, saving, and its conflicts. */
const props = defineProps<{ id: number; view: string }>()
const store = usePlan()
const route = useRoute()
const router = useRouter()
const saving = ref(false)
const back = ref(false)
const palette = ref(false)
const sheet = ref(false)
const root = ref<HTMLElement>()
const { toMain } = useArrival(root, () => {
  const title = VIEWS.find((each) => each.name === props.view)?.title ?? ''
  return `${title}: ${store.plan?.name ?? 'a plan'} – Idle Harbor`
})
const asked = useOnce(() => palette.value || sheet.value)
const checks = useChecks()
/** The bar need not be drawn anew for every plan that a drag makes. */
const open = computed(() => store.plan !== null && store.saved !== null)
const edited = useOnce(() => store.dirty || store.conflict !== null)
/** What the address names and the plan has not; told once it stays so: an edit may be on its way. */
const missing = shallowRef<string[]>([])
let soon: ReturnType<typeof setTimeout> | undefined
watch(
  [() => store.plan, () => route.query],
  ([plan, query]) => {
    clearTimeout(soon)
    const look = () => (missing.value = plan ? missingIn(plan, query) : [])
    if (missing.value.length) look()
    else soon = setTimeout(look, 300)
  },
  { immediate: true },
)
onBeforeUnmount(() => clearTimeout(soon))
const next = computed(() => (store.saved?.number ?? 0) + 1)
watch(
  () => store.settled,
  (plan) => checks.follow(plan),
  { immediate: true },
)

function letGo(): void {
  store.restored = false
  store.undo()
}

async function save(words: string): Promise<void> {
  await store.save(words)
  saving.value = false
}

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest('input, select, textarea, [role=dialog]') !== null

/** Whether undo belongs to what is being typed: a text that is not yet a value of the plan. */
const typed = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  target.matches(
    '[data-typing], textarea, :is(input:not([type]), [type=text], [type=search]):not(.token *)',
  )

function keys(event: KeyboardEvent): void {
  const key = event.key.toLowerCase()
  if ((key === 'z' || key === 'y') && typed(event.target)) return
  if (event.ctrlKey || event.metaKey) {
    if (key === 's') {
      if (store.dirty) saving.value = true
    } else if (key === 'k') palette.value = true
    else if (key === 'z' && !event.shiftKey) store.undo()
    else if (key === 'y' || (key === 'z' && event.shiftKey)) store.redo()
    else return
    event.preventDefault()
    return
  }
  const view = VIEWS.find((item) => item.key === key)
  if (event.altKey || typing(event.target)) return
  if (key === '?') sheet.value = true
  if (!view) return
  event.preventDefault()
  void router.push({
    name: view.name,
    params: { id: props.id },
    query: { week: route.query.week, pool: route.query.pool },
  })
}

onMounted(() => {
  void loadHints()
  // Going from view to view keeps the edit; opening a plan from the list loads it.
  if (store.id !== props.id || !store.plan) void store.load(props.id)
  else void store.look()
  addEventListener('keydown', keys)
})
onBeforeUnmount(() => {
  // What a hand holds ends with the view that it is held in.
  store.cancelGesture()
  checks.rest()
  removeEventListener('keydown', keys)
})
</script>

<template>
  <div ref="root" class="page">
    <template v-if="open">
      <button class="skip" @click="toMain">Skip to the view</button>
      <TopBar :view="view" @save="saving = true" @back="back = true"
        ><slot name="controls"
      /></TopBar>
      <ProblemNote v-if="store.problem" :problem="store.problem" />
      <p v-if="store.restored" class="restored" role="status">
        Your unsaved edit was kept and is shown here.
        <button class="link" @click="letGo">Let it go</button>
      </p>
      <p v-if="store.newer && store.dirty" class="restored" role="status" data-testid="newer">
        r{{ store.newer.number }} was saved by {{ store.newer.author }} since your edit began.
        <button class="link" @click="store.compare">Look at both</button>
      </p>
      <p v-if="store.note" class="restored" role="status">
        {{ store.note }}
        <button class="link" @click="store.understood">Understood</button>
      </p>
      <p v-if="missing.length" class="restored" role="status" data-testid="missing">
        The address asks for something that is not there: {{ missing.join('; ') }}. What is shown
        instead was chosen for you.
      </p>
      <slot />
      <template v-if="asked">
        <PaletteDialog
          v-model="palette"
          :id="id"
          @save="saving = store.dirty"
          @keys="sheet = true"
        />
        <KeysDialog v-model="sheet" />
      </template>
      <template v-if="edited">
        <BackDialog v-model="back" :number="store.saved?.number ?? 0" @back="store.discard" />
        <SaveDialog v-model="saving" :saving="store.saving" :next="next" @save="save" />
        <ConflictDialog
          :conflict="store.conflict"
          @resolve="store.resolve"
          @later="store.conflict = null"
        />
      </template>
    </template>
    <div v-else class="alone">
      <ProblemNote v-if="store.problem" :problem="store.problem">
        <p><button class="link" @click="store.load(id)">Try again</button></p>
      </ProblemNote>
      <p v-else class="quiet">Opening the plan …</p>
    </div>
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.skip {
  position: absolute;
  left: 8px;
  top: -60px;
  z-index: 10;
  padding: 6px 12px;
  color: var(--ink);
  background: var(--paper-raised);
  border: 1px solid var(--hair-strong);
}
.skip:focus {
  top: 6px;
}
.page :deep(main:focus) {
  outline: none;
}
.alone {
  padding: 24px;
}
.restored {
  padding: 4px 16px;
  background: var(--brass-wash);
}
/* Where a page is enlarged, it scrolls as a whole, and what stood side by side stands in turn. */
@media (max-width: 900px) {
  .page {
    height: auto;
    min-height: 100%;
  }
}
</style>
