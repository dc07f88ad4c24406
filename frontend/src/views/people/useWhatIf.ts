import { computed, onBeforeUnmount, reactive, watch, type ComputedRef, type Ref } from 'vue'

import { askedIn, WHAT_IF, type Asked } from '@/views/frame/address'

import type { WhatIf } from './useCrowd'

type Query = Record<string, unknown>

/** How long a slider rests until the address says what is asked, in milliseconds. */
const RESTS = 250
const WORDS = Object.keys(WHAT_IF) as (keyof Asked)[]

/** What an address asks; what it does not name, or names wrongly, is as it is now. */
const askedOf = (query: Query) =>
  Object.fromEntries(
    WORDS.map((word) => [word, askedIn(word, query[word]) ?? WHAT_IF[word].now]),
  ) as Asked

type Go = (query: Record<string, string | undefined>) => void

/** Keep what is asked and the address alike: the address follows once a slider rests, and another
 * address, as after Back, asks something else. */
function keepInAddress(asked: Asked, query: () => Query, go: Go): void {
  let later: ReturnType<typeof setTimeout> | undefined
  const textOf = (word: keyof Asked) =>
    asked[word] === WHAT_IF[word].now ? undefined : String(asked[word])
  function say(): void {
    const there = askedOf(query())
    const words = WORDS.filter((word) => asked[word] !== there[word])
    if (words.length) go(Object.fromEntries(words.map((word) => [word, textOf(word)])))
  }
  watch(asked, () => {
    clearTimeout(later)
    later = setTimeout(say, RESTS)
  })
  watch(
    () => WORDS.map((word) => query()[word]).join(' '),
    () => {
      clearTimeout(later)
      Object.assign(asked, askedOf(query()))
    },
  )
  onBeforeUnmount(() => clearTimeout(later))
}

/**
 * A question asked of the picture: an edit of the plan that is not done yet. It is asked of
 * whatever week and group are looked at, until it is kept or thrown away. The address holds it.
 */
export function useWhatIf(
  first: Ref<string>,
  group: ComputedRef<{ id: string } | null>,
  query: () => Query,
  go: Go,
) {
  /** Per cent of those who come now, per cent of growth, minutes later. */
  const asked = reactive(askedOf(query()))
  keepInAddress(asked, query, go)
  const touched = computed(() => WORDS.some((word) => asked[word] !== WHAT_IF[word].now))
  const edit = computed<WhatIf | null>(() =>
    touched.value
      ? {
          verb: 'add-what-if',
          name: '(asked what if)',
          first: first.value,
          groups: group.value ? [group.value.id] : [],
          attendance: asked.come / 100,
          growth: asked.grown / 100,
          shift_minutes: asked.later,
        }
      : null,
  )
  const forget = () => void Object.assign(asked, askedOf({}))
  return { asked, touched, edit, forget }
}
