// A photo large: what is drawn on it, its words, its place among the others, and an earlier one of the same beside it.
import { useQueryClient } from '@tanstack/react-query'
import { ArrowUpRight, Circle, Eraser, Undo2 } from 'lucide-react'
import { useRef, useState } from 'react'
import { api, type PhotoView, refusalOf } from '../../api/server/client'
import { Button, Refused } from '../Button'
import { day } from '../format'
import { Panel } from '../over/Panel'
import { type Mark, Marks } from './Marks'

interface OnPhotoProps {
  photo: PhotoView
  /** How many there are of the same. */
  among: number
  /** Earlier ones of the same, the last first. */
  earlier: readonly PhotoView[]
  closed: boolean
  opener: React.ReactNode
}

export function OnPhoto({ photo, among, earlier, closed, opener }: OnPhotoProps) {
  const [beside, setBeside] = useState<number | null>(null)
  const other = earlier.find((each) => each.id === beside)
  return (
    <Panel title={photo.caption || `Photo of ${day(photo.taken_at)}`} opener={opener} width="w-[68rem]">
      <div className={`grid gap-3 ${other ? 'sm:grid-cols-2' : ''}`}>
        {other && (
          <figure>
            <Still photo={other} />
            <figcaption className="text-sm text-quiet">
              Earlier, {day(other.taken_at)}
              {other.caption && `: ${other.caption}`}
            </figcaption>
          </figure>
        )}
        <Drawn photo={photo} closed={closed} />
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <Said photo={photo} among={among} closed={closed} />
        {earlier.length > 0 && (
          <label className="text-sm text-quiet">
            Beside it
            <select
              value={beside ?? ''}
              onChange={(event) => setBeside(event.target.value ? Number(event.target.value) : null)}
              className="block h-11 rounded-md border-2 border-line bg-card px-2 text-base text-ink"
            >
              <option value="">nothing</option>
              {earlier.map((each) => (
                <option key={each.id} value={each.id}>
                  {day(each.taken_at)}
                  {each.caption && `, ${each.caption}`}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
    </Panel>
  )
}

/** A photo with what is drawn on it, as it stands. */
export function Still({ photo, small }: { photo: PhotoView; small?: boolean }) {
  return (
    <span className="relative block">
      <img
        src={`/api/photos/${photo.id}${small ? '?small=true' : ''}`}
        alt={photo.caption || `Photo of ${day(photo.taken_at)}`}
        width={photo.width}
        height={photo.height}
        className={
          small ? 'h-20 w-auto rounded border border-line' : 'h-auto max-h-[60dvh] w-full rounded object-contain'
        }
      />
      <Marks marks={photo.marks} width={photo.width} height={photo.height} />
    </span>
  )
}

const MOST = 12
/** A press without a drag draws a mark of this size, as a share. */
const USUAL = 0.12
const STEP = 0.02

function usePhotoChange(photo: PhotoView) {
  const client = useQueryClient()
  const [fault, setFault] = useState('')
  const change = async (changes: Record<string, { was: unknown; now: unknown }>) => {
    const answer = await api
      .PATCH('/api/photos/{photo_id}', { params: { path: { photo_id: photo.id } }, body: changes as never })
      .catch(() => null)
    setFault(!answer ? 'Not saved: no connection to the server.' : answer.data ? '' : refusalOf(answer).reason)
    await Promise.all([
      client.invalidateQueries({ queryKey: ['photos'] }),
      client.invalidateQueries({ queryKey: ['machine'] }),
    ])
  }
  return [change, fault] as const
}

function Drawn({ photo, closed }: { photo: PhotoView; closed: boolean }) {
  const [tool, setTool] = useState<Mark['kind'] | null>(null)
  const [drawing, setDrawing] = useState<Mark | null>(null)
  const [change, fault] = usePhotoChange(photo)
  const box = useRef<HTMLSpanElement>(null)
  const put = (marks: Mark[]) => change({ marks: { was: photo.marks, now: marks } })
  const at = (event: React.PointerEvent): [number, number] => {
    const { left, top, width, height } = (box.current as HTMLElement).getBoundingClientRect()
    return [share((event.clientX - left) / width), share((event.clientY - top) / height)]
  }
  const end = () => {
    if (!drawing) return
    const long = Math.hypot(drawing.x2 - drawing.x1, drawing.y2 - drawing.y1)
    put([...photo.marks, long < STEP ? usual(drawing.kind, drawing.x1, drawing.y1) : drawing])
    setDrawing(null)
  }
  const last = photo.marks.at(-1)
  /** By keys: a mark goes to the middle, and the arrows move the last one. */
  const keys = (event: React.KeyboardEvent) => {
    const by = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] }[event.key]
    if (!by || !last) return
    event.preventDefault()
    const [dx = 0, dy = 0] = by
    const moved = {
      ...last,
      x1: share(last.x1 + dx),
      x2: share(last.x2 + dx),
      y1: share(last.y1 + dy),
      y2: share(last.y2 + dy),
    }
    put([...photo.marks.slice(0, -1), moved])
  }
  return (
    <div>
      <span
        ref={box}
        className={`relative mx-auto block w-fit ${tool ? 'cursor-crosshair touch-none' : ''}`}
        onPointerDown={(event) => {
          if (!tool || photo.marks.length >= MOST) return
          event.currentTarget.setPointerCapture(event.pointerId)
          const [x, y] = at(event)
          setDrawing({ kind: tool, x1: x, y1: y, x2: x, y2: y })
        }}
        onPointerMove={(event) => {
          if (!drawing) return
          const [x2, y2] = at(event)
          setDrawing({ ...drawing, x2, y2 })
        }}
        onPointerUp={end}
        onPointerCancel={() => setDrawing(null)}
      >
        <img
          src={`/api/photos/${photo.id}`}
          alt={photo.caption || `Photo of ${day(photo.taken_at)}`}
          width={photo.width}
          height={photo.height}
          draggable={false}
          className="h-auto max-h-[60dvh] w-auto max-w-full rounded"
        />
        <Marks marks={drawing ? [...photo.marks, drawing] : photo.marks} width={photo.width} height={photo.height} />
      </span>
      {!closed && (
        <div className="mt-2 flex flex-wrap gap-2" role="toolbar" aria-label="Draw on it" onKeyDown={keys}>
          {(['arrow', 'ring'] as const).map((kind) => (
            <button
              key={kind}
              type="button"
              aria-pressed={tool === kind}
              disabled={photo.marks.length >= MOST}
              onClick={(event) => {
                setTool(tool === kind ? null : kind)
                if (event.detail === 0) put([...photo.marks, usual(kind, 0.5, 0.5)])
              }}
              className="flex min-h-11 items-center gap-2 rounded-md border-2 border-ink px-3 text-sm font-semibold aria-pressed:bg-ink aria-pressed:text-paper"
            >
              {kind === 'arrow' ? (
                <ArrowUpRight size={18} aria-hidden="true" />
              ) : (
                <Circle size={18} aria-hidden="true" />
              )}
              {kind === 'arrow' ? 'Arrow' : 'Ring'}
            </button>
          ))}
          {last && (
            <button
              type="button"
              onClick={() => put(photo.marks.slice(0, -1))}
              className="flex min-h-11 items-center gap-2 px-2 text-sm underline underline-offset-4"
            >
              <Undo2 size={18} aria-hidden="true" />
              the last mark off
            </button>
          )}
          {photo.marks.length > 1 && (
            <button
              type="button"
              onClick={() => put([])}
              className="flex min-h-11 items-center gap-2 px-2 text-sm underline underline-offset-4"
            >
              <Eraser size={18} aria-hidden="true" />
              all off
            </button>
          )}
        </div>
      )}
      <Refused className="mt-1 text-sm">{fault}</Refused>
    </div>
  )
}

const share = (value: number) => Math.round(Math.min(1, Math.max(0, value)) * 1000) / 1000

function usual(kind: Mark['kind'], x: number, y: number): Mark {
  const half = USUAL / 2
  return kind === 'ring'
    ? { kind, x1: share(x - half), y1: share(y - half), x2: share(x + half), y2: share(y + half) }
    : { kind, x1: share(x + USUAL), y1: share(y + USUAL), x2: x, y2: y }
}

function Said({ photo, among, closed }: { photo: PhotoView; among: number; closed: boolean }) {
  const [words, setWords] = useState(photo.caption)
  const [change, fault] = usePhotoChange(photo)
  const keep = () => words !== photo.caption && change({ caption: { was: photo.caption, now: words } })
  return (
    <>
      <label className="min-w-56 flex-1 text-sm text-quiet">
        What it shows
        <input
          value={words}
          maxLength={200}
          disabled={closed}
          onChange={(event) => setWords(event.target.value)}
          onBlur={keep}
          onKeyDown={(event) => event.key === 'Enter' && keep()}
          className="block h-11 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink"
        />
      </label>
      {!closed && among > 1 && (
        <div className="flex gap-2">
          {(
            [
              ['earlier', photo.place - 1],
              ['later', photo.place + 1],
            ] as const
          ).map(([way, place]) => (
            <Button
              key={way}
              look="plain"
              disabled={place < 1 || place > among}
              onClick={() => change({ place: { was: photo.place, now: place } })}
            >
              {way}
            </Button>
          ))}
        </div>
      )}
      {!closed && (
        <Button look="plain" onClick={() => change({ removed: { was: photo.removed, now: !photo.removed } })}>
          {photo.removed ? 'Bring back' : 'Remove'}
        </Button>
      )}
      <Refused className="text-sm">{fault}</Refused>
    </>
  )
}
