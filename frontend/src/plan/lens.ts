import type { Plan } from '@/api/client'
import { numbersOf, type Numbers } from '@/help/hints'

import { rowKey } from './rows'

/** How one part of a plan is reached, whatever state the plan is in. */
export interface Way<T> {
  /** Where the part stands in the field table. */
  path: string
  read(plan: Plan): T | undefined
  /** Put a value in its place. `plan` is a copy that may be changed. */
  write(plan: Plan, value: T): void
  /** Change the part where it stands; where there is none, nothing happens. */
  edit(plan: Plan, change: (part: T) => void): void
  /** Take the part out of its list. */
  remove(plan: Plan): void
}
type Item<T> = NonNullable<T> extends readonly (infer Each)[] ? Each : never
type Kind<T> = NonNullable<T> extends { kind: infer Each } ? Each : never

/** A row of a list as it is drawn, with its way. */
export interface Row<T> {
  value: T
  key: string
  at: Lens<T>
}

const readonly = () => undefined
const isThere = <T>(part: T | undefined): part is NonNullable<T> =>
  part !== undefined && part !== null

/**
 * A way to one part of the plan, by names, ids and keys of rows. Sentences, tables and handles
 * share it: what is shown is read by it, what is typed or dragged is written by it, and bounds and
 * meaning stand under its path in the field table.
 */
export class Lens<T> {
  constructor(private readonly way: Way<T>) {}

  get path(): string {
    return this.way.path
  }
  /** What is declared of numbers that are typed here: bounds and step. */
  get bounds(): Numbers {
    return numbersOf(this.path)
  }
  read(plan: Plan): T | undefined {
    return this.way.read(plan)
  }
  write(plan: Plan, value: T): void {
    this.way.write(plan, value)
  }
  edit(plan: Plan, change: (part: T) => void): void {
    this.way.edit(plan, change)
  }
  remove(plan: Plan): void {
    this.way.remove(plan)
  }

  /** A field of the part. */
  at<K extends keyof NonNullable<T> & string>(key: K): Lens<NonNullable<T>[K]> {
    type Field = NonNullable<T>[K]
    const { way } = this
    const within = (plan: Plan, change: (holder: NonNullable<T>) => void) => {
      way.edit(plan, (holder) => {
        if (isThere(holder)) change(holder)
      })
    }
    return new Lens<Field>({
      path: way.path ? `${way.path}.${key}` : key,
      read: (plan) => (way.read(plan) as NonNullable<T> | undefined)?.[key],
      write: (plan, value) => {
        within(plan, (holder) => {
          holder[key] = value
        })
      },
      edit: (plan, change) => {
        within(plan, (holder) => {
          if (isThere(holder[key])) change(holder[key])
        })
      },
      remove: readonly,
    })
  }

  /** A field of the part by its path, as a sentence from the server names it. */
  field(dotted: string): Lens<unknown> {
    return dotted
      .split('.')
      .reduce<Lens<unknown>>(
        (at, key) => (at as Lens<Record<string, unknown>>).at(key),
        this as Lens<unknown>,
      )
  }

  /** The part, where it is of one kind of several. */
  kind<K extends Kind<T>>(kind: K): Lens<Extract<NonNullable<T>, { kind: K }>> {
    type Narrow = Extract<NonNullable<T>, { kind: K }>
    const { way } = this
    const fits = (part: T | undefined): part is Narrow & T =>
      isThere(part) && (part as { kind?: unknown }).kind === kind
    return new Lens<Narrow>({
      path: way.path,
      read: (plan) => {
        const part = way.read(plan)
        return fits(part) ? part : undefined
      },
      write: (plan, value) => {
        way.write(plan, value as T)
      },
      edit: (plan, change) => {
        way.edit(plan, (part) => {
          if (fits(part)) change(part)
        })
      },
      remove: readonly,
    })
  }

  /** The row of a list that has an id. */
  item(id: string): Lens<Item<T>> {
    return this.where((row) => (row as { id?: unknown }).id === id)
  }

  /** The row of a list that has a key. */
  row(key: string): Lens<Item<T>> {
    return this.where((row) => typeof row === 'object' && row !== null && rowKey(row) === key)
  }

  /** All rows of a list as they are in a plan. */
  rows(plan: Plan): Row<Item<T>>[] {
    const list = (this.read(plan) ?? []) as Item<T>[]
    const wayTo = (key: string) => this.row(key)
    return list.map((value) => {
      const key = rowKey(value as object)
      // Of thousands of rows few are drawn: a way is made when it is asked for.
      return {
        value,
        key,
        get at() {
          return wayTo(key)
        },
      }
    })
  }

  private where(fits: (row: Item<T>) => boolean): Lens<Item<T>> {
    const { way } = this
    const inList = (plan: Plan, change: (list: Item<T>[], place: number) => void) => {
      way.edit(plan, (list) => {
        const rows = list as Item<T>[]
        const place = rows.findIndex(fits)
        if (place >= 0) change(rows, place)
      })
    }
    return new Lens<Item<T>>({
      path: way.path,
      read: (plan) => (way.read(plan) as Item<T>[] | undefined)?.find(fits),
      write: (plan, value) => {
        inList(plan, (list, place) => {
          list[place] = value
        })
      },
      edit: (plan, change) => {
        inList(plan, (list, place) => {
          change(list[place] as Item<T>)
        })
      },
      remove: (plan) => {
        inList(plan, (list, place) => {
          list.splice(place, 1)
        })
      },
    })
  }
}

/** The whole plan: where every way begins. */
export const PLAN = new Lens<Plan>({
  path: '',
  read: (plan) => plan,
  write: readonly,
  edit: (plan, change) => {
    change(plan)
  },
  remove: readonly,
})

/** The way to where a JSON pointer leads in a plan: it goes on leading there when rows move. */
export function lensAt(plan: Plan, pointer: string): Lens<unknown> {
  return pointer
    .split('/')
    .slice(1)
    .reduce<Lens<unknown>>((at, key) => {
      const part = at.read(plan)
      const row = Array.isArray(part) ? (part[Number(key)] as unknown) : null
      return typeof row === 'object' && row !== null ? at.row(rowKey(row)) : at.field(key)
    }, PLAN as Lens<unknown>)
}
