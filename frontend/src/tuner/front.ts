import type { Study, StudyPoint } from '@/api/client'

/** What stands in the picture of a study: its place, what it is, and the point behind it. */
export interface Mark {
  key: string
  /** On the axis; null where there is no bound. */
  across: number | null
  money: number
  look: 'today' | 'rule' | 'kept' | 'at risk' | 'broken' | 'tuned' | 'search'
  name: string
  point: StudyPoint | null
}

export type Axis = Study['question']['axis']

const FIGURE = {
  wait_p95_seconds: 'wait_p95',
  refused_share: 'refused',
  strained_share: 'strained',
  lost_returns: 'lost',
  forced_share: 'forced',
  comfort: 'comfort',
} as const

/** The value of a point on the axis of its study; null without bound. */
export function acrossOf(point: StudyPoint, axis: Axis): number | null {
  const figure = point[FIGURE[axis]]
  return figure.unbounded ? null : (figure.mean ?? 0)
}

function markOf(
  point: StudyPoint,
  axis: Axis,
  key: string,
  look: Mark['look'],
  name: string,
): Mark {
  return { key, across: acrossOf(point, axis), money: point.money.mean ?? 0, look, name, point }
}

const frontKey = (place: number) => `front-${place}`

/** Everything that a study shows, the plan of today first and what was tuned last. */
export function marksOf(study: Study): Mark[] {
  const axis = study.question.axis
  const answer = study.answer
  if (!answer) {
    return (study.so_far?.points ?? []).map((each, k) => ({
      key: `search-${k}`,
      across: each.axis,
      money: each.money,
      look: each.keeps ? 'search' : 'broken',
      name: each.keeps ? 'found so far' : 'found so far, misses the promise',
      point: null,
    }))
  }
  return [
    markOf(answer.current, axis, 'today', 'today', 'today'),
    ...answer.rules.map((each) => markOf(each, axis, each.name, 'rule', each.name)),
    ...answer.front.map((each, k) =>
      markOf(each, axis, frontKey(k), each.standing, `a plan ${each.standing} on fresh weeks`),
    ),
    ...(answer.tuned ? [markOf(answer.tuned, axis, 'tuned', 'tuned', 'tuned')] : []),
  ]
}

/** What is looked at first: what was tuned, else what comes nearest to the promise. */
export function firstOf(answer: NonNullable<Study['answer']>): string {
  if (answer.tuned) return 'tuned'
  return answer.nearest == null ? 'today' : frontKey(answer.nearest)
}

/** A round scale up to a value, from nothing: where lines are drawn. */
export function linesTo(most: number, many = 5): number[] {
  if (most <= 0) return [0]
  const rough = most / many
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].map((k) => k * power).find((each) => each >= rough) ?? power * 10
  return Array.from({ length: Math.floor(most / step + 1e-9) + 1 }, (_, k) => k * step)
}

/** Whether a point has the settings that the plan has today. */
export function isToday(point: StudyPoint, answer: NonNullable<Study['answer']>): boolean {
  const settings = ({ pool, schedule }: StudyPoint) => JSON.stringify([pool, schedule])
  return settings(point) === settings(answer.current)
}

/** The height, of those within bounds, that is nearest to one and leaves so much to others. */
export function freeHeight(
  wanted: number,
  taken: readonly number[],
  apart: number,
  within: readonly [number, number],
): number {
  const free = (y: number) => taken.every((other) => Math.abs(other - y) >= apart)
  for (let k = 0; k <= taken.length; k++) {
    for (const y of [wanted - k * apart, wanted + k * apart]) {
      if (y >= within[0] && y <= within[1] && free(y)) return y
    }
  }
  return wanted
}
