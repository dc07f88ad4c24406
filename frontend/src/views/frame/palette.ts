import type { Edit, Hint, Plan, PlanSummary } from '@/api/client'
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
  kind: 'view' | 'pool' | 'group' | 'field' | 'plan' | 'action'
  /** The path of a field that has the focus once its view is there. */
  field?: string
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

/** Where the fields of a pool and of a band stand, by the beginning of their paths. */
export const FIELDS: Record<string, string> = {
  'pools.': 'pools',
  'schedules.day_types.bands.': 'board',
}
/** Rows of lists within a pool or a band, and what only some of them have. */
const ROWS = /\.(assigned|apps_at_logon|promise|exceptions|timeouts|name|id|load_rules)\b/
/** Fields of a pool that stand elsewhere: beside the picture that they change. */
const ELSEWHERE: Record<string, [view: string, query: Record<string, string>]> = {
  'pools.size': ['hosts', {}],
  'pools.session_limit': ['hosts', {}],
  'pools.idle_timeout': ['board', { more: '1' }],
  'pools.disconnected_timeout': ['board', { more: '1' }],
  'pools.patience_seconds': ['board', { more: '1' }],
}

/** The fields of the pool that is looked at, each by its name and what it means. */
export function fieldEntries(hints: readonly Hint[], pool: string | undefined): Entry[] {
  return hints.flatMap(({ path, meaning }): Entry[] => {
    const begin = Object.keys(FIELDS).find((each) => path.startsWith(each))
    if (!begin || ROWS.test(path)) return []
    const name = path.slice(begin.length).replaceAll(/[._]/g, ' ')
    const [view, more] = ELSEWHERE[path] ?? [FIELDS[begin] ?? '', {}]
    const query = { ...(pool ? { pool } : {}), ...more }
    return [{ text: `${name}: ${meaning}`, kind: 'field', field: path, to: { name: view, query } }]
  })
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
