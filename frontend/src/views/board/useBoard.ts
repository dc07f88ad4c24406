import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import {
  api,
  type Band,
  type LoadRule,
  type LoadSeries,
  type ReadyBy,
  type Revision,
} from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import type { Reply } from '@/ask/told'
import { nameOf } from '@/plan/called'
import { bandsOf, placeOf, scheduleOf, type Held } from '@/water/day'
import * as edits from './edits'
import { targetsOf, type DayTarget, type HeldTarget } from '@/water/targets'
import { useWeeks } from '@/water/weeks'
import { useGhost } from '@/stores/ghost'
import { useGesture } from '@/plan/gesture'
import { usePlan } from '@/plan/store'
import { clock } from '@/ui/format'
import { useWeek } from '@/views/frame/useWeek'

/** A whole number of the address; null where there is none, or something else. */
const number = (value: unknown) =>
  typeof value === 'string' && /^\d{1,9}$/.test(value) ? Number(value) : null

/** Everything the Board does: the selection in its address, the schedule's edits, the baseline. */
export function useBoard() {
  const route = useRoute()
  const router = useRouter()
  const store = usePlan()
  const simulation = useWeeks()
  const { first } = useWeek()
  const { holding, move: gesture, cancel: letGo } = useGesture(() => simulation.busy)

  function go(query: Record<string, string | undefined>): void {
    void router.replace({ query: { ...route.query, ...query } })
  }

  const pool = computed(() => {
    const wanted = route.query.pool
    return store.plan?.pools.find((p) => p.id === wanted) ?? store.plan?.pools[0] ?? null
  })
  const weekday = computed(() => Math.max(0, Math.min(number(route.query.day) ?? 0, 6)))
  const pinned = computed(() => number(route.query.pin))
  const ghosts = useGhost()
  /** A plan found elsewhere that is looked at beside this one, in place of a revision. */
  const ghost = computed(() => {
    const found = ghosts.ghost
    return found?.of === store.id && found.pool === pool.value?.id ? found : null
  })
  const beside = computed(() =>
    ghost.value ? ghost.value.name : pinned.value === null ? '' : `r${pinned.value}`,
  )
  const week = computed(() => simulation.week)
  const day = computed(() => week.value?.days[weekday.value] ?? null)
  const schedule = computed(() =>
    store.plan && pool.value ? scheduleOf(store.plan, pool.value) : undefined,
  )
  /** The same as the shown week was simulated with it. */
  const scheduleThen = computed(() => {
    const then = simulation.of?.plan
    const found = then?.pools.find((each) => each.id === pool.value?.id)
    return then && found ? scheduleOf(then, found) : undefined
  })
  /** What is dragged stands where the hand is, and where it was let go until the week follows. */
  const held = shallowRef<Held | null>(null)
  watch([() => simulation.fits, () => simulation.problem, holding], () => {
    if ((!simulation.fits && !simulation.problem) || holding.value) return
    held.value = null
    heldTarget.value = null
  })
  const bands = computed(() =>
    schedule.value && day.value && week.value
      ? bandsOf(schedule.value, week.value, day.value, held.value, scheduleThen.value)
      : [],
  )
  const heldTarget = shallowRef<HeldTarget | null>(null)
  const came = computed(() => (simulation.kept ? simulation.whole : null))
  const targets = computed(() =>
    schedule.value && day.value && week.value
      ? targetsOf(
          schedule.value,
          week.value,
          day.value,
          came.value,
          heldTarget.value,
          scheduleThen.value,
        )
      : [],
  )
  const selected = computed(() =>
    Math.max(0, Math.min(number(route.query.band) ?? 1, bands.value.length - 1)),
  )
  const place = computed<edits.BandPlace | null>(() => {
    if (!scheduleThen.value || !week.value || !day.value) return null
    const found = placeOf(scheduleThen.value, week.value, day.value)
    const band = bands.value[selected.value]?.key
    return found && band !== undefined ? { ...found, band } : null
  })

  /** The other pools that have the schedule, and whether what is changed is for this one alone. */
  const sharedWith = computed(() =>
    (store.plan?.pools ?? [])
      .filter((each) => each.schedule === pool.value?.schedule && each.id !== pool.value.id)
      .map(nameOf),
  )
  const wishesAlone = ref(false)
  watch([() => pool.value?.id, () => store.id], () => (wishesAlone.value = false))
  const alone = computed({
    get: () => wishesAlone.value && sharedWith.value.length > 0,
    set: (value: boolean) => (wishesAlone.value = value),
  })

  /** The load rules that are at work on the day, each with what the week tells of it. */
  const loadRules = computed<{ rule: LoadRule; told: LoadSeries }[]>(() => {
    const named = new Set(bands.value.flatMap((each) => each.band.load_rules))
    return (schedule.value?.load_rules ?? []).flatMap((rule) => {
      const told = week.value?.load_rules.find((each) => each.id === rule.id)
      return told && named.has(rule.id) ? [{ rule, told }] : []
    })
  })

  function select(index: number): void {
    if (index !== selected.value) go({ band: String(index) })
  }

  // The picture follows the plan, gesture or not.
  watch(
    [() => store.plan, () => pool.value?.id, () => store.saved?.number, first],
    () => {
      if (!store.plan || !pool.value) return simulation.forget()
      simulation.ask({
        plan: store.plan,
        pool: pool.value.id,
        first: first.value,
        saved: !store.dirty && !holding.value,
        day: weekday.value,
        settled: !holding.value,
      })
    },
    { immediate: true },
  )

  function change(at: Held, done: boolean, values: Partial<Band>): void {
    if (!place.value || !pool.value) return
    const band = bands.value.find((each) => each.index === at.index)?.key
    if (band === undefined) return
    const mine = edits.inPool(edits.bandAt({ ...place.value, band }), whose())
    gesture(() => {
      held.value = at
      store.set(mine, values as Band, !done)
    }, done)
  }
  const whose = () => ({ pool: pool.value?.id ?? '', alone: alone.value })
  function target(of: DayTarget, at: Omit<HeldTarget, 'key'>, done: boolean, to: Partial<ReadyBy>) {
    const named = schedule.value?.id
    if (named === undefined) return
    const place = { schedule: named, dayType: of.dayType }
    const mine = edits.inPool(edits.targetAt(place, of.key), whose())
    gesture(() => {
      heldTarget.value = { ...at, key: of.key }
      store.set(mine, to as ReadyBy, !done)
    }, done)
  }
  function targetTime(of: DayTarget, at: number, done: boolean): void {
    const to = clock(at, of.zone)
    const others = targets.value.filter((each) => each.key !== of.key)
    // No two are of one time: the hand passes over that of another.
    if (!done && others.some((each) => each.target.at === to)) return
    target(of, { at }, done, { at: to })
  }
  function targetHosts(of: DayTarget, hosts: number, done: boolean): void {
    target(of, { hosts }, done, { hosts })
  }
  function loadRule(id: string, values: Partial<LoadRule>, done: boolean): void {
    const named = schedule.value?.id
    if (named === undefined) return
    const set = (rule: LoadRule) => Object.assign(rule, values)
    gesture(() => store.alter(edits.loadRuleAt(named, id), set, !done), done)
  }
  function edge(index: number, instant: number, done: boolean): void {
    if (!week.value) return
    change({ index, instant }, done, { from: clock(instant, week.value.zone) })
  }
  function floor(index: number, hosts: number, done: boolean): void {
    change({ index, floor: hosts }, done, { floor: hosts })
  }
  function ceiling(index: number, share: number, done: boolean): void {
    change({ index, fill_ceiling: share }, done, { fill_ceiling: share })
  }
  /** The day's bands as an edit names them. */
  const named = () => ({
    schedule: schedule.value?.id ?? '',
    day_type: (store.plan && place.value && edits.dayTypeAt(place.value).read(store.plan)?.id) ?? '',
  })
  async function split(index: number): Promise<void> {
    const band = bands.value[index]
    if (!band || !week.value) return
    const at = clock((band.start + band.end) / 2, week.value.zone)
    if (await store.apply({ verb: 'split-band', ...named(), at })) select(index + 1)
  }
  async function remove(index: number): Promise<void> {
    const band = bands.value[index]?.band.from
    if (band === undefined) return
    if (await store.apply({ verb: 'remove-band', ...named(), band })) select(Math.max(0, index - 1))
  }
  function cancel(): void {
    held.value = null
    heldTarget.value = null
    letGo()
  }

  /** A saved revision beside the plan, asked apart so that neither ends the other. */
  const pinnedPlan = useQuestion<{ id: number; number: number }, Revision>(
    async (wish, call) => {
      const path = { plan_id: wish.id, number: wish.number }
      return (await api.GET('/api/plans/{plan_id}/revisions/{number}', {
        params: { path },
        signal: call.signal,
      })) as Reply<Revision>
    },
    {
      key: (wish) => keyOf(wish.id, wish.number),
      about: (wish) => `${wish.id} ${wish.number}`,
      urgent: () => true,
    },
  )
  const against = useWeeks()
  watch(
    [pinned, () => store.id],
    () => {
      if (pinned.value === null || !store.id) pinnedPlan.forget()
      else pinnedPlan.ask({ id: store.id, number: pinned.value })
    },
    { immediate: true },
  )
  watch(
    [pinnedPlan.answer, ghost, () => pool.value?.id, first],
    () => {
      const plan = ghost.value?.plan ?? pinnedPlan.answer.value?.plan
      if (!plan || !pool.value) return against.forget()
      const id = pool.value.id
      against.ask({ plan, pool: id, first: first.value, saved: true, settled: true })
    },
    { immediate: true },
  )
  const baseline = computed(() => against.week)
  const baselineRange = computed(() => against.range)
  const pinProblem = computed(() => pinnedPlan.problem.value ?? against.problem)

  return {
    store,
    simulation,
    holding,
    pool,
    weekday,
    pinned,
    ghost,
    beside,
    forgetGhost: () => (ghosts.ghost = null),
    week,
    day,
    bands,
    selected,
    place,
    sharedWith,
    alone,
    baseline,
    baselineRange,
    pinProblem,
    go,
    select,
    edge,
    floor,
    ceiling,
    targets,
    targetTime,
    targetHosts,
    loadRule,
    loadRules,
    split,
    remove,
    cancel,
  }
}
