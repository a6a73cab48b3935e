// The server's answers, typed from its OpenAPI description.
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'
import { watched } from './wire'

export const api = createClient<paths>({ fetch: watched })

type Schemas = components['schemas']
export type MachineCard = Schemas['MachineCard']
export type MachineView = Schemas['MachineView']
export type VisitView = Schemas['VisitView']
export type Prediction = Schemas['PredictionDocument']
export type PredictionFigures = Schemas['PredictionFigures']
export type CurvePoint = Schemas['CurvePoint']
export type SlotView = Schemas['SlotView']
export type NumberView = Schemas['NumberView']
export type Sensitivity = Schemas['Sensitivity']
export type Comparison = Schemas['Comparison']
export type RunLogView = Schemas['RunLogView']
export type ComparedView = Schemas['ComparedView']
export type RunToChoose = Schemas['RunToChoose']
export type UploadView = Schemas['UploadView']
export type Traces = Schemas['TracesView']
export type RunSummary = Schemas['RunSummaryDocument']
export type FigurePart = Schemas['FigurePart']
export type StripView = Schemas['StripView']
export type ClutchPicture = Schemas['ClutchPicture']
export type PictureNode = Schemas['PictureNode']
export type ShelfView = Schemas['ShelfView']
export type ShelfOption = Schemas['ShelfOption']
export type PlanSearchView = Schemas['PlanSearchView']
export type Drawing = Schemas['Drawing']
export type AnswerView = Schemas['AnswerView']
export type StrangerBody = Schemas['StrangerBody']
export type StrangerView = Schemas['StrangerView']
export type LookView = Schemas['LookView']
export type FaultView = Schemas['FaultView']
export type ItemView = Schemas['ItemView']
export type KindView = Schemas['KindView']
export type ClutchPart = Schemas['ClutchPart']
export type WearItem = Schemas['WearItem']
export type BeltLifeView = Schemas['BeltLifeView']
export type DueView = Schemas['DueView']
export type PartsView = Schemas['PartsView']
export type Units = Schemas['Units']
export type PhotoView = Schemas['PhotoView']
export type WorkshopView = Schemas['WorkshopView']
export type DeviceView = Schemas['DeviceView']
export type HeldReading = Schemas['HeldReading']
export type Station = VisitView['stations'][number]['station']
export type LoggedChange = Schemas['LoggedChange']
export type Refusal = Schemas['Refusal']

/** An answer as openapi-fetch gives it: the data, or the refusal. */
export type Answer<T> = { data?: T; error?: unknown; response: Response }

export function refusalOf(answer: Answer<unknown>): Refusal {
  const body = answer.error as { error?: Refusal } | undefined
  // What is announced as too large is turned away before the application sees it, without a refusal of its own.
  if (!body?.error && answer.response.status === 413)
    return { field: 'document', reason: 'is larger than is read here' }
  return body?.error ?? { field: 'request', reason: `the server answered ${answer.response.status}` }
}

export async function must<T>(answer: Promise<Answer<T>>): Promise<T> {
  const given = await answer
  if (given.data === undefined) {
    const { field, reason } = refusalOf(given)
    throw new Error(reason, { cause: field })
  }
  return given.data
}
