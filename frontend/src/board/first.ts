import type { Plan } from '@/api/client'

/** What a first week needs to be seen. */
export interface FirstFacts {
  people: number
  zone: string
  start: string
  hours: number
  vcpu: number
  memory: number
  hourly: string
  hosts: number
  limit: number
}

const WORKDAYS = ['mon', 'tue', 'wed', 'thu', 'fri'] as const

/** The clock an hour before a start, as the edge of a morning band. */
export function hourBefore(start: string): string {
  const minutes = Number(start.slice(0, 2)) * 60 + Number(start.slice(3))
  const edge = Math.max(5, Math.floor((minutes - 60) / 5) * 5)
  return `${String(Math.floor(edge / 60)).padStart(2, '0')}:${String(edge % 60).padStart(2, '0')}`
}

/** Fill an empty plan with one group, one size, one pool and a plain schedule. */
export function beginPlan(plan: Plan, facts: FirstFacts): void {
  const band = { fill_ceiling: 0.8, headroom: 0 }
  plan.sites = [{ id: 'main', time_zone: facts.zone }]
  plan.profiles = [
    {
      id: 'office',
      cpu: { mean: 0.35, sd: 0.25, idle: 0.03 },
      memory_gib: { active: 1.8, idle: 1.6, disconnected: 1.5 },
      logon: { seconds: 22, vcpu: 1 },
    },
  ]
  plan.groups = [
    {
      id: 'people',
      site: 'main',
      profile: 'office',
      demand: {
        kind: 'headcount',
        people: facts.people,
        patterns: [
          {
            id: 'day',
            share: 1,
            attendance: Object.fromEntries(WORKDAYS.map((day) => [day, 0.9])) as Record<
              (typeof WORKDAYS)[number],
              number
            >,
            start: { kind: 'normal', mean: facts.start, sd_minutes: 25 },
            length: { kind: 'normal', mean_minutes: facts.hours * 60, sd_minutes: 30 },
            breaks: [],
            leaving: { sign_off: 0.6, disconnect: 0.3, walk_away: 0.1 },
          },
        ],
      },
    } as Plan['groups'][number],
  ]
  plan.entitlements = [{ group: 'people', pool: 'shared', as: 'desktop' }]
  plan.sizes = [
    {
      id: 'host',
      vcpu: facts.vcpu,
      memory_gib: facts.memory,
      hourly: facts.hourly,
      source: 'typed',
      billing_step_seconds: 1,
      billing_minimum_seconds: 0,
    },
  ]
  plan.schedules = [
    {
      id: 'shared',
      tick_seconds: 300,
      day_types: [
        {
          id: 'workday',
          weekdays: [...WORKDAYS],
          bands: [
            { from: '00:00', floor: 0, ...band, rule: 'fill', release: 'drain' },
            {
              from: hourBefore(facts.start),
              floor: 1,
              ...band,
              rule: 'spread',
              release: 'keep all',
            },
            { from: '17:00', floor: 0, ...band, rule: 'fill', release: 'drain' },
          ],
        },
        {
          id: 'rest-day',
          weekdays: ['sat', 'sun'],
          bands: [{ from: '00:00', floor: 0, ...band, rule: 'fill', release: 'drain' }],
        },
      ],
    },
  ]
  const bands = plan.schedules[0]?.day_types[0]?.bands ?? []
  if (hourBefore(facts.start) >= '17:00') bands.splice(2, 1)
  plan.pools = [
    {
      id: 'shared',
      kind: 'shared',
      time_zone: facts.zone,
      size: 'host',
      disk: null,
      hosts: { standing: facts.hosts },
      session_limit: facts.limit,
      schedule: 'shared',
      start: { mean_seconds: 240, cv: 0.3 },
      stop_seconds: 60,
      patience_seconds: 600,
      idle_timeout: 7200,
      disconnected_timeout: 3600,
      reconnect_seconds: 8,
      load: { limit: 0.85, tolerance: 0.05, base_vcpu: 0.3, base_gib: 3 },
    } as Plan['pools'][number],
  ]
}
