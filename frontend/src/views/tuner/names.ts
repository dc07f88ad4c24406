/** What may be changed, and fields whose names in a plan say too little by themselves. */
export const FREE_NAMES: Record<string, string> = {
  schedule: 'schedule',
  timeouts: 'timeouts',
  limit: 'session limit',
  hosts: 'number of hosts',
  size: 'host size',
  place: 'place',
  starts: 'starts at once',
  'pools.size': 'host size',
  'pools.start.parallel': 'starts at once',
  'pools.hosts.standing': 'standing hosts',
  'pools.hosts.surge': 'surge hosts',
  'schedules.day_types.bands.from': 'when bands begin',
  'schedules.day_types.bands.rule': 'where people go',
  'schedules.day_types.bands.knock': 'starts at a knock',
  'schedules.day_types.bands.notice.minutes': 'minutes of notice',
  'schedules.day_types.bands.notice.who': 'who gets notice',
}
