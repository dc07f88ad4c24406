import { computed, reactive, ref, watch } from 'vue'

import { api, type Edit, type Plan, type SizingAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { about, sent } from '@/ask/send'

/** What the first sentences of a plan say. */
export type Facts = Omit<Extract<Edit, { verb: 'begin-plan' }>, 'verb'>

/** The sizing of the plan that the facts would begin. */
function useSizing(plan: () => Plan) {
  return useQuestion<Facts, SizingAnswer>(
    async (asked, call) => {
      const edit = { verb: 'begin-plan' as const, ...asked, hosts: 1 }
      const begun = await api.POST('/api/plans/edit', sent({ plan: plan(), edit }))
      if (!begun.data) return begun
      const pool = { pool: 'shared', percentile: 0.95, spare: 1, lose_zone: false }
      const whole = { plan: begun.data.plan as Plan, ...pool, group: null, active_share: null }
      return api.POST('/api/hosts/sizing', about(whole, call))
    },
    { key: (asked) => keyOf(asked) },
  )
}

/** The hosts and the limit that nobody has typed follow from the peak of the people, one host to
 * spare, and from what a host of the size bears. */
export function useFirst(plan: () => Plan) {
  const facts = reactive<Facts>({
    people: 0,
    zone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'Europe/Dublin',
    start: '08:45',
    hours: 8.25,
    vcpu: 8,
    memory_gib: 32,
    hourly: '0.40',
    hosts: 0,
    session_limit: 10,
  })
  const typed = ref({ hosts: false, limit: false })
  const sizing = useSizing(plan)
  /** What the size bears, and how many hosts the peak needs with the limit that stands there. */
  const proposed = computed(() => {
    const answer = sizing.answer.value
    const size = answer?.sizes.find((each) => each.id === answer.size)
    if (!answer || !size || size.missing) return null
    const limit = typed.value.limit ? facts.session_limit : Math.max(1, size.sessions)
    const hosts = size.hosts[Math.min(limit, size.hosts.length) - 1]
    if (hosts === undefined) return null
    return { peak: answer.peak.value, limit, hosts, bears: size.sessions, binds: size.binding }
  })
  watch(
    () => ({ ...facts, hosts: 0, session_limit: 1 }),
    (asked) => {
      if (asked.people > 0) sizing.ask(asked)
    },
  )
  watch(proposed, (found) => {
    if (!found) return
    if (!typed.value.limit) facts.session_limit = found.limit
    if (!typed.value.hosts) facts.hosts = found.hosts
  })
  return { facts, typed, proposed, sizing }
}
