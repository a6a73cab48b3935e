// What reading tells of the server: one that does not answer is away, one that does is back.
import { cache } from '../server/cache'
import { heard } from './outbox'

/** Listens to every page's reading. A refusal carries its field as cause: that is an answer. */
export function followReads() {
  cache.getQueryCache().subscribe((event) => {
    if (event.type !== 'updated') return
    const { action } = event
    if (action.type === 'error' && action.error.cause === undefined) heard('away')
    if (action.type === 'success' && !action.manual) heard('back')
  })
}
