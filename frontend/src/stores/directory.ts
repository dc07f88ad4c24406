import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import {
  api,
  problemOf,
  UNREACHABLE,
  type DirectoryAnswer,
  type DirectoryLine,
  type ImportModel,
  type Problem,
} from '@/api/client'
import { owner } from '@/ask/page'
import { told } from '@/ask/told'
import { usePlan } from '@/plan/store'

const LOOK_MS = 400
const WORKING = ['reading', 'judging', 'applying']

/** The directory of the plan that is open, the others that it could share, and the import under
 * way. */
export const useDirectory = defineStore('directory', () => {
  const store = usePlan()
  /** Whose directory it is: every question names the plan. */
  const of = () => ({ query: { plan: store.id } })
  const held = shallowRef<DirectoryAnswer | null>(null)
  const all = shallowRef<DirectoryLine[]>([])
  const latest = shallowRef<ImportModel | null>(null)
  const problem = shallowRef<Problem | null>(null)
  const sent = ref<number | null>(null)
  let look: ReturnType<typeof setTimeout> | undefined
  /** Counts the looks: after a later one, or once nobody watches, an older does not go on. */
  let watches = 0

  const working = computed(() => !!latest.value && WORKING.includes(latest.value.state))

  async function load(): Promise<void> {
    const params = of()
    const [answer, others] = await Promise.all([
      told(api.GET('/api/directory', { params })),
      told(api.GET('/api/directory/all')),
    ])
    // Another plan was opened meanwhile: that one asks for its own.
    if (params.query.plan !== store.id) return
    if (answer.data) held.value = answer.data
    else problem.value = answer.problem
    if (others.data) all.value = others.data.directories
    await watchImport()
  }
  // What one plan has is never shown beside another.
  watch(
    () => store.id,
    () => {
      stop()
      held.value = latest.value = problem.value = null
    },
  )

  /** Share a directory with the plans that have it, or have none. */
  async function share(directory: number | null): Promise<void> {
    const answer = await told(api.PUT('/api/directory', { params: of(), body: { directory } }))
    problem.value = answer.problem
    if (answer.data) await load()
  }

  /** Look at the import until nothing works on it any more. */
  async function watchImport(): Promise<void> {
    clearTimeout(look)
    const mine = (watches += 1)
    const answer = await told(api.GET('/api/directory/import', { params: of() }))
    if (mine !== watches) return
    if (!answer.data) {
      problem.value = answer.problem
      if (working.value) look = setTimeout(() => void watchImport(), 5 * LOOK_MS)
      return
    }
    if (problem.value?.status === 0) problem.value = null
    const before = latest.value?.state
    latest.value = answer.data.latest
    if (working.value) look = setTimeout(() => void watchImport(), LOOK_MS)
    else if (before === 'applying') await load()
  }

  /** An import was asked for: the first one of a plan has made its directory. */
  const begun = () => (held.value?.id === null ? load() : watchImport())

  /** Send a file as it is, telling how much of it has gone. */
  function send(file: File, format: string): Promise<void> {
    problem.value = null
    sent.value = 0
    return new Promise((resolve) => {
      const request = new XMLHttpRequest()
      const query = new URLSearchParams({ plan: `${store.id}`, format, name: file.name, owner })
      request.open('POST', `/api/directory/import?${query.toString()}`)
      request.setRequestHeader('Content-Type', 'application/octet-stream')
      request.upload.onprogress = (event) => (sent.value = event.loaded / Math.max(event.total, 1))
      request.onload = () => {
        if (request.status >= 400) {
          try {
            problem.value = problemOf(JSON.parse(request.responseText))
          } catch {
            problem.value = UNREACHABLE
          }
        }
        done()
      }
      request.onerror = () => {
        problem.value = UNREACHABLE
        done()
      }
      const done = () => {
        sent.value = null
        void begun().then(resolve)
      }
      request.send(file)
    })
  }

  async function askStandIn(day: number): Promise<void> {
    problem.value = null
    problem.value = (
      await told(api.POST('/api/directory/stand-in', { params: of(), body: { day, owner } }))
    ).problem
    await begun()
  }

  async function decide(what: 'apply' | 'drop'): Promise<void> {
    const number = latest.value?.id
    if (number === undefined) return
    problem.value = null
    const params = { path: { import_id: number } }
    const answer = await told(
      what === 'apply'
        ? api.POST('/api/directory/import/{import_id}/apply', { params })
        : api.POST('/api/directory/import/{import_id}/drop', { params }),
    )
    if (answer.data) latest.value = answer.data.latest
    problem.value = answer.problem
    await watchImport()
  }

  function stop(): void {
    watches += 1
    clearTimeout(look)
  }

  return {
    held,
    all,
    of,
    share,
    latest,
    problem,
    sent,
    working,
    load,
    send,
    askStandIn,
    decide,
    stop,
  }
})
