/** The views of a plan in the order of the work; keys are their places in it. */
export const VIEWS = [
  { name: 'people', title: 'People', key: '1' },
  { name: 'board', title: 'Board', key: '4' },
] as const
