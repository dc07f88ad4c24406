import { ref } from 'vue'

import { readKept, writeKept } from '@/stores/kept'

/** Whether the night chart is shown. */
export const night = ref(false)

const KEY = 'idle-harbor.theme'

function apply(value: boolean): void {
  night.value = value
  document.documentElement.classList.toggle('night', value)
}

/** Take the theme of last time, or what the system prefers. */
export function restoreTheme(): void {
  const kept = readKept(KEY)
  apply(kept ? kept === 'night' : matchMedia('(prefers-color-scheme: dark)').matches)
}

/** Change between the day and the night chart. */
export function toggleTheme(): void {
  apply(!night.value)
  writeKept(KEY, night.value ? 'night' : 'day')
}
