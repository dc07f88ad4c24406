import { computed, onBeforeUnmount, ref, shallowRef, type Ref, type ShallowRef } from 'vue'

import type { Problem } from '@/api/client'

import { page } from './page'
import { passing, told, type Reply } from './told'

/** Why a question is given up where others may still want the answer. */
export const LEFT = 'nobody looks at this any more'

/** Milliseconds before each further try; after the last of them nothing more is tried. */
const TRIES_AFTER = [500, 1000, 2000, 4000, 5000, 5000, 5000, 5000, 5000, 5000]

/** How far a long answer is. */
export interface Progress {
  done: number
  of: number
}

/** What a sender is told of a call: it ends with the signal; the numbers name page and edit. */
export interface Call {
  signal: AbortSignal
  tab: string
  edit: number
  progress: (progress: Progress) => void
}

/** The edits of one page in their order: on the server the newest of a line ends the older ones. */
export interface Line {
  tab: string
  next: () => number
}

export function newLine(): Line {
  let count = 0
  return { tab: crypto.randomUUID(), next: () => (count += 1) }
}

export interface Manner<W> {
  /** What the answer depends on: a wish with the key of what is there is not asked again. */
  key: (wish: W) => string
  /** Whether a wish ends the one that is being answered; else it comes next. */
  urgent?: (wish: W) => boolean
  /** What the answer is about, such as a pool and a week: it is shown for nothing else. */
  about?: (wish: W) => string
  /** Questions of one line end each other on the server; each has its own unless told. */
  line?: Line
}

export interface Question<W, A> {
  answer: ShallowRef<A | null>
  /** The wish that the answer is to. */
  wish: ShallowRef<W | null>
  /** The key of that wish; empty while there is no answer. */
  key: Ref<string>
  /** Whether the answer is to the newest wish. */
  fits: Readonly<Ref<boolean>>
  problem: ShallowRef<Problem | null>
  busy: Ref<boolean>
  progress: Ref<Progress | null>
  /** How many answers have come. */
  answered: Ref<number>
  /** Whether anything has been asked since all was forgotten. */
  asked: Ref<boolean>
  ask: (wish: W) => void
  /** Ask the last wish again, whatever is there. */
  again: () => void
  /** Give up what is being answered, and keep what is there. */
  stop: () => void
  /** The same, and nothing is there any more. */
  forget: () => void
}

interface Flight<W> {
  wish: W
  key: string
  number: number
  control: AbortController
}

/**
 * A question to the server that follows the page. One wish is worked on at a time and the newest
 * comes next; an urgent one ends the older here and on the server. An answer lands only while its
 * wish is the one worked on. A server that is gone is tried again, ever more slowly, and at last
 * no more.
 */
export function question<W, A>(
  send: (wish: W, call: Call) => Promise<Reply<A>>,
  manner: Manner<W>,
): Question<W, A> {
  const answer = shallowRef<A | null>(null)
  const shown = shallowRef<W | null>(null)
  const key = ref('')
  const newest = ref('')
  const fits = computed(() => key.value !== '' && key.value === newest.value && !problem.value)
  const problem = shallowRef<Problem | null>(null)
  const busy = ref(false)
  const progress = ref<Progress | null>(null)
  const answered = ref(0)
  const asked = ref(false)
  const line = manner.line ?? newLine()

  let flying: Flight<W> | null = null
  let next: { wish: W; key: string } | null = null
  let last: W | null = null
  let tries = 0
  let about = ''
  let later: ReturnType<typeof setTimeout> | undefined

  function settle(): void {
    if (next) return void fly()
    busy.value = false
    progress.value = null
  }

  async function fly(): Promise<void> {
    if (!next) return
    const flight = { ...next, number: line.next(), control: new AbortController() }
    next = null
    flying = flight
    busy.value = true
    const call: Call = {
      signal: flight.control.signal,
      tab: line.tab,
      edit: flight.number,
      progress: (far) => {
        if (flying === flight) progress.value = far
      },
    }
    const found = await told(reached(send(flight.wish, call)))
    if (flying !== flight) return
    flying = null
    progress.value = null
    if (found.problem === null) land(flight, found.data)
    else if (found.problem.status !== SUPERSEDED) fail(flight, found.problem)
    settle()
  }

  function land(flight: Flight<W>, data: A): void {
    answer.value = data
    shown.value = flight.wish
    key.value = flight.key
    problem.value = null
    answered.value += 1
    tries = 0
  }

  function fail(flight: Flight<W>, what: Problem): void {
    problem.value = what
    if (next || !passing(what)) return
    const after = TRIES_AFTER[tries]
    if (after === undefined) return
    tries += 1
    later = setTimeout(() => {
      next ??= { wish: flight.wish, key: flight.key }
      if (!flying) void fly()
    }, after)
  }

  function abort(why?: string): void {
    clearTimeout(later)
    const flight = flying
    flying = null
    next = null
    flight?.control.abort(why)
    busy.value = false
    progress.value = null
  }

  /** What is there goes as soon as something else is looked at, of this plan or of another. */
  function leave(wish: W): void {
    const subject = `${page.plan} ${manner.about?.(wish) ?? ''}`
    if (subject === about) return
    about = subject
    abort()
    drop()
  }

  function ask(wish: W): void {
    const wanted = manner.key(wish)
    leave(wish)
    last = wish
    newest.value = wanted
    asked.value = true
    tries = 0
    clearTimeout(later)
    if (flying?.key === wanted) {
      next = null
      return
    }
    if (key.value === wanted && !problem.value && answer.value !== null) {
      abort()
      return
    }
    if (flying && (manner.urgent?.(wish) ?? false)) abort()
    next = { wish, key: wanted }
    if (!flying) void fly()
  }

  function again(): void {
    if (last === null) return
    const wish = last
    key.value = ''
    abort()
    ask(wish)
  }

  function drop(): void {
    answer.value = null
    shown.value = null
    key.value = ''
    problem.value = null
  }

  function forget(): void {
    abort(LEFT)
    last = null
    asked.value = false
    drop()
  }

  return {
    answer,
    wish: shown,
    key,
    fits,
    problem,
    busy,
    progress,
    answered,
    asked,
    ask,
    again,
    stop: () => abort(),
    forget,
  }
}

/** The status of an answer that was given up for a newer edit of the same page. */
const SUPERSEDED = 204

/** A reply without a body is one that was given up. */
async function reached<A>(call: Promise<Reply<A>>): Promise<Reply<A>> {
  const reply = await call
  if (reply.response?.status !== SUPERSEDED) return reply
  return { error: { type: '', title: '', status: SUPERSEDED, detail: '', remedy: '', faults: [] } }
}

/** The same for as long as a component is there. */
export function useQuestion<W, A>(
  send: (wish: W, call: Call) => Promise<Reply<A>>,
  manner: Manner<W>,
): Question<W, A> {
  const found = question(send, manner)
  onBeforeUnmount(found.forget)
  return found
}
