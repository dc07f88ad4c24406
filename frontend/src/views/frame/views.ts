/** The views of a plan in the order of the work; keys are their places in it. */
export const VIEWS = [
  { name: 'people', title: 'People', key: '1' },
  { name: 'hosts', title: 'Hosts', key: '2' },
  { name: 'pools', title: 'Pools', key: '3' },
  { name: 'board', title: 'Board', key: '4' },
  { name: 'tuner', title: 'Tuner', key: '6' },
  { name: 'checks', title: 'Checks', key: '7' },
] as const
