// What the pieces of the parts room share.
import type { PartsView } from '../../api/server/client'

export type Part = PartsView['parts'][number]
export type Tool = PartsView['tools'][number]

export const KEY = ['parts']
