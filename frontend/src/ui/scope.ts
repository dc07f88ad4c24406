import { inject, provide, type InjectionKey } from 'vue'

/** The part that the tokens of a sentence belong to: they name its fields by dotted paths. */
export interface Scope {
  read: (field: string) => unknown
  set: (field: string, value: unknown) => void
  /** Where a field stands in the field table. */
  pathOf: (field: string) => string
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
