// Photos on their way: made as small as they are kept, held in this browser until the server has them, sent in order.
import { createStore, del, entries, set } from 'idb-keyval'
import { useSyncExternalStore } from 'react'
import { cache } from '../server/cache'
import type { Refusal } from '../server/client'
import { hand } from '../server/hand'
import { notNow, watched } from '../server/wire'
import { heard } from './outbox'

/** What a photo is of: a machine, or something seen at a visit, by its subject. */
export interface Where {
  machine: number
  visit?: number
  subject?: string
  /** What it is of, in words. */
  words: string
}

export interface WaitingPhoto extends Where {
  /** Told to the server: one sent twice is kept once. */
  token: string
  taken: number
  by: string
  picture: Blob
  /** Why the server refused it; empty of one that waits. */
  reason: string
}

/** The longest side a photo is kept with [px], as the server keeps it. */
const LONGEST = 2000
const QUALITY = 0.85
const AWAY_MS = 2500
/** A megabyte on a poor line takes its time; one that hangs must not hold the others. */
const PATIENCE_MS = 60_000

const store = createStore('jaxel-photos', 'waiting')
const listeners = new Set<() => void>()
let waiting: readonly WaitingPhoto[] = []
let sending = false

function publish(next: readonly WaitingPhoto[]) {
  waiting = next
  for (const listener of listeners) listener()
}

/** Takes photos in, whatever the line does. */
export async function putPhotos(files: Iterable<File>, where: Where) {
  for (const file of files) {
    const photo: WaitingPhoto = {
      ...where,
      token: crypto.randomUUID(),
      taken: Date.now(),
      by: hand(),
      picture: await shrunk(file),
      reason: '',
    }
    // A browser that keeps nothing holds it as long as the page stands.
    await set(photo.token, photo, store).catch(() => undefined)
    publish([...waiting, photo])
  }
  void send()
}

/** A photo no larger than it is kept; what cannot be read here goes as it is, for the server to judge. */
async function shrunk(file: File): Promise<Blob> {
  try {
    const image = await createImageBitmap(file, { imageOrientation: 'from-image' })
    const scale = Math.min(1, LONGEST / Math.max(image.width, image.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.round(image.width * scale)
    canvas.height = Math.round(image.height * scale)
    canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
    image.close()
    const small = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', QUALITY))
    return small ?? file
  } catch {
    return file
  }
}

export async function dropPhoto(token: string) {
  await del(token, store).catch(() => undefined)
  publish(waiting.filter((each) => each.token !== token))
}

async function send() {
  if (sending) return
  sending = true
  try {
    for (;;) {
      const next = waiting.find((each) => !each.reason)
      if (!next || !(await sendOne(next))) return
    }
  } finally {
    sending = false
  }
}

/** Sends one; false where the server is away. */
async function sendOne(photo: WaitingPhoto): Promise<boolean> {
  const of = new URLSearchParams()
  if (photo.visit) of.set('visit_id', String(photo.visit))
  if (photo.subject) of.set('subject', photo.subject)
  let answer: Response
  try {
    answer = await watched(`/api/machines/${photo.machine}/photos?${of}`, {
      method: 'POST',
      headers: {
        'Content-Type': photo.picture.type,
        'Jaxel-Hand': encodeURIComponent(photo.by),
        'Jaxel-Once': photo.token,
      },
      body: photo.picture,
      signal: AbortSignal.timeout(PATIENCE_MS),
    })
  } catch {
    heard('away')
    return false
  }
  if (notNow(answer.status)) {
    heard('away')
    return false
  }
  if (answer.ok) {
    await dropPhoto(photo.token)
    await Promise.all([
      cache.invalidateQueries({ queryKey: ['photos'] }),
      cache.invalidateQueries({ queryKey: ['machine'] }),
    ])
  } else {
    const body = (await answer.json().catch(() => null)) as { error?: Refusal } | null
    refuse(photo, body?.error?.reason ?? (answer.status === 413 ? 'is larger than is kept here' : 'was not taken'))
  }
  return true
}

function refuse(photo: WaitingPhoto, reason: string) {
  const told = { ...photo, reason }
  void set(photo.token, told, store).catch(() => undefined)
  publish(waiting.map((each) => (each.token === photo.token ? told : each)))
}

/** Photos that are not saved yet, those of one subject or all. */
export function useWaitingPhotos(): readonly WaitingPhoto[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => waiting,
  )
}

/** Takes up what earlier pages left behind. */
async function begin() {
  const left = await entries<string, WaitingPhoto>(store).catch(() => [])
  publish([...left.map(([, photo]) => photo).sort((one, other) => one.taken - other.taken), ...waiting])
  void send()
}

window.setInterval(() => void send(), AWAY_MS)
void begin()
