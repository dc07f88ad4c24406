import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import {
  api,
  type DropIn,
  type Group,
  type Headcount,
  type Pattern,
  type PatternAnswer,
  type Plan,
} from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { sent } from '@/ask/send'
import { PLAN } from '@/plan/lens'
import { useGesture } from '@/plan/gesture'
import { usePlan } from '@/plan/store'
import { useWeek } from '@/views/frame/useWeek'

import { useCrowd } from './useCrowd'
import { useWhatIf } from './useWhatIf'

export type Mode = 'present' | 'arrivals' | 'peaks' | 'year'

/** Everything the People view does: what is looked at, its edits, and the question "what if". */
export function usePeople() {
  const route = useRoute()
  const router = useRouter()
  const store = usePlan()
  const crowd = useCrowd()
  const { first, go: goWeek } = useWeek()
  const drawer = useQuestion<{ plan: Plan; group: string; pattern: string }, PatternAnswer>(
    (wish, call) => api.POST('/api/people/pattern', sent(wish, call.signal)),
    {
      key: (wish) => keyOf(wish.plan, wish.group, wish.pattern),
      about: (wish) => `${wish.group} ${wish.pattern}`,
    },
  )
  const { holding, move, cancel } = useGesture(() => crowd.busy || drawer.busy.value)

  function go(query: Record<string, string | undefined>): void {
    void router.replace({ query: { ...route.query, ...query } })
  }

  const mode = computed<Mode>(() => {
    const named = route.query.show
    return named === 'arrivals' || named === 'peaks' || named === 'year' ? named : 'present'
  })
  const group = computed<Group | null>(
    () => store.plan?.groups.find((g) => g.id === route.query.group) ?? null,
  )
  const headcount = computed<Headcount | null>(() =>
    group.value?.demand.kind === 'headcount' ? (group.value.demand as Headcount) : null,
  )
  const pattern = computed<Pattern | null>(() => {
    const patterns = headcount.value?.patterns ?? []
    return patterns.find((p) => p.id === route.query.pattern) ?? patterns[0] ?? null
  })
  const panel = computed(() => (route.query.panel === 'directory' ? 'directory' : null))
  const zone = computed(() => {
    const zones = store.plan?.sites.map((site) => site.time_zone) ?? []
    const named = route.query.zone
    return typeof named === 'string' && zones.includes(named) ? named : (zones[0] ?? 'UTC')
  })

  const whatIf = useWhatIf(first, group, () => route.query, go)

  watch(
    [() => store.plan, whatIf.edit, first, zone, () => mode.value === 'year', holding],
    () => {
      if (!store.plan) return crowd.forget()
      crowd.ask({
        plan: store.plan,
        whatIf: whatIf.edit.value,
        first: first.value,
        zone: zone.value,
        year: mode.value === 'year' ? `${first.value.slice(0, 4)}-01-01` : null,
        settled: !holding.value,
      })
    },
    { immediate: true },
  )

  /** The pattern that the picture is of. */
  const pictured = computed<Pattern | null>(() => {
    const wish = drawer.wish.value
    const found = wish?.plan.groups.find((each) => each.id === wish.group)?.demand
    if (found?.kind !== 'headcount') return null
    return (found.patterns.find((each) => each.id === wish?.pattern) ?? null) as Pattern | null
  })
  watch(
    [pattern, () => group.value?.id],
    ([now, name]) => {
      if (!store.plan || !now || !name) return drawer.forget()
      drawer.ask({ plan: store.plan, group: name, pattern: now.id })
    },
    { immediate: true },
  )

  /** The ways to what is looked at: an edit lands there, whatever the plan is by then. */
  const groupAt = computed(() => PLAN.at('groups').item(group.value?.id ?? ''))
  const headcountAt = computed(() => groupAt.value.at('demand').kind('headcount'))
  const patternAt = computed(() => headcountAt.value.at('patterns').item(pattern.value?.id ?? ''))
  function editRates(change: (demand: DropIn) => void, done: boolean): void {
    const at = groupAt.value.at('demand').kind('drop-in')
    move(() => store.alter(at, change, !done), done)
  }
  function editPattern(change: (pattern: Pattern) => void, done = true): void {
    const at = patternAt.value
    move(() => store.alter(at, change, !done), done)
  }

  return {
    store,
    crowd,
    holding,
    first,
    goWeek,
    go,
    look: (id: string) => go({ group: id, pattern: undefined }),
    mode,
    group,
    headcount,
    pattern,
    zone,
    panel,
    whatIf,
    picture: drawer.answer,
    drawing: drawer.busy,
    pictured,
    pictureProblem: drawer.problem,
    groupAt,
    headcountAt,
    patternAt,
    editRates,
    editPattern,
    cancel,
  }
}
