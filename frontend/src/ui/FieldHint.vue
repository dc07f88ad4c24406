<script setup lang="ts">
import { onMounted, ref } from 'vue'

/** What a field means, shown beside it while it has the focus. */
defineProps<{ text: string }>()

const box = ref<HTMLElement>()
/** Pixels to the left, where it would reach beyond the part of the page that scrolls. */
const shift = ref(0)
onMounted(() => {
  if (!box.value) return
  const page = box.value.closest('main') ?? document.documentElement
  const room = page.getBoundingClientRect().right - 8
  shift.value = Math.min(0, room - box.value.getBoundingClientRect().right)
})
</script>

<template>
  <span ref="box" class="hint" role="tooltip" :style="{ marginLeft: `${shift}px` }">{{
    text
  }}</span>
</template>

<style scoped>
.hint {
  position: absolute;
  top: calc(100% + 3px);
  left: 0;
  z-index: 20;
  width: max-content;
  max-width: 260px;
  white-space: normal;
  line-height: 1.35;
  background: var(--paper-raised);
  border: 1px solid var(--hair-strong);
  border-left: 3px solid var(--brass-line);
  padding: 3px 8px;
  font-size: 12px;
  font-weight: 400;
  pointer-events: none;
}
</style>
