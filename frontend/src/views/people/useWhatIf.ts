import { computed, reactive, type ComputedRef, type Ref } from 'vue'

import type { WhatIf } from './useCrowd'

const AS_NOW = { attendance: 100, growth: 0, shift: 0 }

/**
 * A question asked of the picture: an edit of the plan that is not done yet. It is asked of
 * whatever week and group are looked at, until it is kept or thrown away.
 */
export function useWhatIf(first: Ref<string>, group: ComputedRef<{ id: string } | null>) {
  /** Per cent of those who come now, per cent of growth, minutes later. */
  const asked = reactive({ ...AS_NOW })
  const touched = computed(
    () => asked.attendance !== 100 || asked.growth !== 0 || asked.shift !== 0,
  )
  const edit = computed<WhatIf | null>(() =>
    touched.value
      ? {
          verb: 'add-what-if',
          name: '(asked what if)',
          first: first.value,
          groups: group.value ? [group.value.id] : [],
          attendance: asked.attendance / 100,
          growth: asked.growth / 100,
          shift_minutes: asked.shift,
        }
      : null,
  )
  return { asked, touched, edit, forget: () => void Object.assign(asked, AS_NOW) }
}
