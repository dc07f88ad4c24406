import { inject, provide, type InjectionKey } from 'vue'

/** A part of the plan that sentences edit: how to read it, how to change it in a copy. */
export interface Scope {
  value: () => object
  edit: (change: (part: object) => void) => void
  /** Where its fields stand in the field table. */
  path: string
}

const KEY: InjectionKey<Scope> = Symbol('scope')

export function provideScope(scope: Scope): void {
  provide(KEY, scope)
}

export function useScope(): Scope {
  const scope = inject(KEY)
  if (!scope) throw new Error('a field token stands outside of any scope')
  return scope
}

/** The value at a dotted path of a part, numbers being places in lists. */
export function read(part: unknown, field: string): unknown {
  return field
    .split('.')
    .reduce<unknown>((at, key) => (at as Record<string, unknown> | undefined)?.[key], part)
}

/** Set the value at a dotted path of a part. */
export function write(part: object, field: string, value: unknown): void {
  const keys = field.split('.')
  const last = keys.pop() ?? ''
  const holder = keys.reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], part)
  ;(holder as Record<string, unknown>)[last] = value
}
