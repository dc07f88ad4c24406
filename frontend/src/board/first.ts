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

/** One group, one size, one pool and a plain schedule; the server fills in every default. */
export function firstParts(facts: FirstFacts) {
  const quiet = { from: '00:00', rule: 'fill', release: 'drain' }
  const bands = [
    quiet,
    { from: hourBefore(facts.start), floor: 1, rule: 'spread', release: 'keep all' },
    { ...quiet, from: '17:00' },
  ]
  if (hourBefore(facts.start) >= '17:00') bands.pop()
  const pattern = {
    id: 'day',
    attendance: Object.fromEntries(WORKDAYS.map((day) => [day, 0.9])),
    start: { kind: 'normal', mean: facts.start },
    length: { kind: 'normal', mean_minutes: facts.hours * 60 },
    leaving: { sign_off: 0.6, disconnect: 0.3, walk_away: 0.1 },
  }
  return {
    sites: [{ id: 'main', time_zone: facts.zone }],
    profiles: [{ id: 'office' }],
    groups: [
      {
        id: 'people',
        site: 'main',
        profile: 'office',
        demand: { kind: 'headcount', people: facts.people, patterns: [pattern] },
      },
    ],
    access: [{ group: 'people', pool: 'shared', as: 'desktop' }],
    sizes: [{ id: 'host', vcpu: facts.vcpu, memory_gib: facts.memory, hourly: facts.hourly }],
    schedules: [
      {
        id: 'shared',
        day_types: [
          { id: 'workday', weekdays: [...WORKDAYS], dates: [], bands },
          { id: 'rest-day', weekdays: ['sat', 'sun'], dates: [], bands: [quiet] },
        ],
      },
    ],
    pools: [
      {
        id: 'shared',
        time_zone: facts.zone,
        size: 'host',
        hosts: { standing: facts.hosts },
        session_limit: facts.limit,
        schedule: 'shared',
      },
    ],
  }
}
