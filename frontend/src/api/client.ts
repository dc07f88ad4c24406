import createClient from 'openapi-fetch'

import type { components, paths } from './schema'

/** A document with every default filled in, as the server always sends it. */
type Full<T> = T extends (infer U)[]
  ? Full<U>[]
  : T extends object
    ? { [K in keyof T]-?: Full<T[K]> }
    : T

type Schemas = components['schemas']
export type Plan = Full<Schemas['Plan']>
export type Pool = Full<Schemas['Pool']>
export type Profile = Full<Schemas['Profile']>
export type Size = Full<Schemas['Size']>
export type Image = Full<Schemas['Image']>
export type Group = Full<Schemas['Group']>
export type Headcount = Full<Schemas['Headcount']>
export type Pattern = Full<Schemas['Pattern']>
export type Break = Full<Schemas['Break']>
export type Leaving = Full<Schemas['Leaving']>
export type DropIn = Full<Schemas['DropIn']>
export type PlanEvent = Full<Schemas['Event']>
export type Site = Full<Schemas['Site']>
export type Access = Full<Schemas['Access']>
export type Schedule = Full<Schemas['Schedule']>
export type Band = Full<Schemas['Band']>
export type BandException = Full<Schemas['BandException']>
export type ReadyByException = Full<Schemas['ReadyByException']>
export type Job = Schemas['JobModel']
export type Study = Schemas['StudyAnswer']
export type StudyRow = Schemas['StudyRow']
export type StudyPoint = Schemas['PointModel']
export type StudyMark = Schemas['StudyMark']
export type StudyMay = Schemas['MayAnswer']
export type Together = Schemas['TogetherAnswer']
export type StudiesDiffer = Schemas['AgainstAnswer']
export type WeekOfYear = Schemas['WeekOfYearModel']
export type Offer = Schemas['OfferModel']
export type ReadyBy = Full<Schemas['ReadyBy']>
export type DayType = Full<Schemas['DayType']>
export type YearAnswer = Schemas['YearAnswer']
export type LoadRule = Full<Schemas['LoadRule']>
export type LoadSeries = Schemas['LoadRuleModel']
export type FactsAnswer = Schemas['FactsAnswer']
export type WordsAnswer = Schemas['WordsAnswer']
export type Said = Omit<Schemas['SaidOfModel'], 'id'>
export type PlanSummary = Schemas['PlanSummary']
export type RemovedPlan = Schemas['RemovedPlan']
export type RevisionChanges = Schemas['RevisionChanges']
export type RevisionSummary = Schemas['RevisionSummary']
export type WeekAnswer = Schemas['WeekAnswer']
export type RangeAnswer = Schemas['RangeWhole']
export type Figures = Schemas['Figures']
export type Interval = Schemas['Interval']
export type Verdicts = Schemas['VerdictsModel']
export type LanesAnswer = Schemas['LanesAnswer']
export type WaitersAnswer = Schemas['WaitersAnswer']
export type CrowdAnswer = Schemas['CrowdAnswer']
export type CrowdGroup = Schemas['CrowdGroup']
export type CrowdRange = Schemas['CrowdRangeAnswer']
export type CrowdYear = Schemas['CrowdYearWhole']
export type PatternAnswer = Schemas['PatternAnswer']
export type Check = Schemas['CheckModel']
export type ChecksAnswer = Schemas['ChecksWhole']
export type SizingAnswer = Schemas['SizingAnswer']
export type SizeModel = Schemas['SizeModel']
export type KindsAnswer = Schemas['KindsWhole']
export type PlacesAnswer = Schemas['PlacesAnswer']
export type PoolsAnswer = Schemas['PoolsWhole']
export type PoolRow = Schemas['PoolRow']
export type Promised = Schemas['PromisedModel']
export type Standing = Schemas['Verdict']['standing']
export type DrillBody = Schemas['DrillBody']
export type DrillAnswer = Schemas['DrillAnswer']
export type SheetAnswer = Schemas['SheetAnswer']
export type DirectoryAnswer = Schemas['DirectoryAnswer']
export type DirectoryLine = Schemas['DirectoryLineModel']
export type Behind = Schemas['BehindModel']
export type ImportModel = Schemas['ImportModel']
export type Hint = Schemas['HintModel']
export type Problem = Schemas['Problem']
export type StaleProblem = Schemas['StaleProblem']
export type Series = Schemas['SeriesModel']
export type Edit = Schemas['EditBody']['edit']
export type Flood = Schemas['FloodModel']
export type Day = Schemas['DayModel']

export const api = createClient<paths>({ baseUrl: '' })

/** A stored revision with its document. */
export interface Revision {
  id: number
  name: string
  number: number
  latest: number
  author: string
  words: string
  content_hash: string
  saved_at: string
  plan: Plan
}

/** What is shown when the server cannot be reached at all. */
export const UNREACHABLE: Problem = {
  type: '/problems/unreachable',
  title: 'The server does not answer',
  status: 0,
  detail: 'this page cannot reach Idle Harbor',
  remedy: 'your edit is kept here; it goes on as soon as the server is back',
  faults: [],
}

/** The problem in an answer that failed, whatever it looked like. */
export function problemOf(error: unknown): Problem {
  if (error && typeof error === 'object' && 'title' in error) return error as Problem
  return UNREACHABLE
}
