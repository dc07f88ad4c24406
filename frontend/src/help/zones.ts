import { shallowRef, type ShallowRef } from 'vue'

import { api } from '@/api/client'
import { told } from '@/ask/told'

const zones = shallowRef<string[]>([])
let asked: Promise<void> | null = null

async function load(): Promise<void> {
  const answer = await told(api.GET('/api/zones'))
  if (answer.data) zones.value = answer.data.zones
  else asked = null
}

/** Names of the time zones that a plan may have, fetched when they are first needed. */
export function useZones(): ShallowRef<string[]> {
  asked ??= load()
  return zones
}
