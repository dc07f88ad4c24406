import type { Edit, Plan, PlanSummary } from '@/api/client'
import { nameOf } from '@/plan/called'

import { VIEWS } from './views'

type What = Extract<Edit, { verb: 'add-part' }>['what']
/** What can be added from anywhere, how it is called at first, and the view that shows it. */
const ADDED: readonly [What, string, string][] = [
  ['pool', 'New pool', 'pools'],
  ['site', 'New site', 'people'],
  ['size', 'New size', 'hosts'],
  ['place', 'New place', 'hosts'],
]

/** Somewhere to go, or something to do, by a few words. */
export interface Entry {
  text: string
  kind: 'view' | 'pool' | 'group' | 'plan' | 'action'
  key?: string
  to?: { name: string; query: Record<string, string>; params?: { id: number } }
  act?: () => void
}
export interface Actions {
  add: (what: What, name: string) => void
  save: () => void
  undo: () => void
  redo: () => void
  theme: () => void
  keys: () => void
}

/** Everything that the palette offers for a plan. */
export function entriesOf(plan: Plan, plans: readonly PlanSummary[], actions: Actions): Entry[] {
  const ofPool = VIEWS.filter(({ name }) => ['board', 'hosts', 'tuner'].includes(name))
  return [
    ...VIEWS.map(({ name, title, key }): Entry => ({
      text: title,
      kind: 'view',
      key,
      to: { name, query: {} },
    })),
    ...plan.pools.flatMap((pool) =>
      ofPool.map(({ name, title }): Entry => ({
        text: `${nameOf(pool)}: ${title}`,
        kind: 'pool',
        to: { name, query: { pool: pool.id } },
      })),
    ),
    ...plan.groups.map((group): Entry => ({
      text: nameOf(group),
      kind: 'group',
      to: { name: 'people', query: { group: group.id } },
    })),
    ...plans.map(({ id, name }): Entry => ({
      text: name,
      kind: 'plan',
      to: { name: 'board', query: {}, params: { id } },
    })),
    { text: 'All plans', kind: 'plan', to: { name: 'plans', query: {} } },
    ...ADDED.map(([what, name, view]): Entry => ({
      text: `Add ${what === 'image' ? 'an' : 'a'} ${what}`,
      kind: 'action',
      to: { name: view, query: {} },
      act: () => actions.add(what, name),
    })),
    { text: 'Save', kind: 'action', key: 'Ctrl+S', act: actions.save },
    { text: 'Undo', kind: 'action', key: 'Ctrl+Z', act: actions.undo },
    { text: 'Redo', kind: 'action', key: 'Ctrl+Y', act: actions.redo },
    { text: 'Day chart or night chart', kind: 'action', act: actions.theme },
    { text: 'Keys', kind: 'action', key: '?', act: actions.keys },
  ]
}

/** Entries in whose text every word that was typed begins a word, the best first. */
export function found(entries: readonly Entry[], typed: string): Entry[] {
  const words = typed
    .toLowerCase()
    .split(/[\s:,]+/)
    .filter(Boolean)
  const parts = (text: string) => text.toLowerCase().split(/[\s:,]+/)
  const fits = (entry: Entry) =>
    words.every((word) => parts(entry.text).some((part) => part.startsWith(word)))
  const first = (entry: Entry) => Number(!entry.text.toLowerCase().startsWith(words[0] ?? ''))
  return entries.filter(fits).sort((a, b) => first(a) - first(b))
}
