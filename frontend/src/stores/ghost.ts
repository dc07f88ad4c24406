import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import type { Plan } from '@/api/client'

/** A plan that is looked at beside the one that is worked on, for one of its pools. */
export interface Ghost {
  /** The plan that is worked on, by its id. */
  of: number
  plan: Plan
  pool: string
  name: string
}

export const useGhost = defineStore('ghost', () => ({ ghost: shallowRef<Ghost | null>(null) }))
