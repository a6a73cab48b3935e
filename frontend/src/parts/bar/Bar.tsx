// The dark bar: where you are, and the light you work in.

import { BookOpen, Menu, Moon, Package, Store, Sun } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { BENCH, setHand, useHand } from '../../api/server/hand'
import { takeWorkshop, useWorkshop } from '../../api/server/workshop'
import { Aside } from '../over/Aside'
import { Close } from '../over/Over'
import { Keys, type OwnKey } from './Keys'
import { Unsaved } from './Unsaved'

function preferred(): 'light' | 'dark' {
  const kept = localStorage.getItem('jaxel.theme')
  if (kept === 'light' || kept === 'dark') return kept
  return window.matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

function apply(theme: 'light' | 'dark') {
  document.documentElement.dataset.theme = theme
}
apply(preferred())

interface BarProps {
  children?: React.ReactNode
  /** What the place adds to the bar; else the list of keys, with its own among them. */
  tools?: React.ReactNode
  keys?: readonly OwnKey[]
  main?: string
}

export function Bar({ children, keys, main, tools = <Keys own={keys} main={main} /> }: BarProps) {
  const [theme, setTheme] = useState(preferred)
  const other = theme === 'light' ? 'dark' : 'light'
  const turn = () => {
    localStorage.setItem('jaxel.theme', other)
    apply(other)
    setTheme(other)
  }
  return (
    <header className="flex min-h-13 items-center gap-x-3 max-sm:gap-x-1 bg-bar px-5 text-on-bar max-sm:flex-wrap max-sm:px-3 print:hidden">
      <a
        href="#work"
        className="absolute top-1 left-2 z-50 -translate-y-20 rounded-md bg-signal px-4 py-3 font-bold text-on-signal focus:translate-y-0"
      >
        To the work
      </a>
      <Link
        to="/"
        aria-label="Jaxel, shop floor"
        className="flex min-h-11 min-w-11 items-center gap-3 text-xl font-bold max-sm:mr-auto"
      >
        <svg viewBox="0 0 40 24" className="h-6 w-10" aria-hidden="true">
          <path
            d="M10.6 6.1 28.2 3.1A9 9 0 1 1 28.2 20.9L10.6 17.9A6 6 0 0 1 10.6 6.1Z"
            fill="none"
            stroke="currentColor"
            strokeWidth="2.6"
          />
          <circle cx="11" cy="12" r="1.8" className="fill-signal-on-bar" />
          <circle cx="29" cy="12" r="3.4" className="fill-signal-on-bar" />
        </svg>
        <span className="max-sm:sr-only">Jaxel</span>
      </Link>
      <div className="min-w-0 flex-1 py-1 leading-snug break-words text-bar-quiet max-lg:truncate max-sm:order-last max-sm:basis-full">
        {children}
      </div>
      <Unsaved />
      {tools}
      <HandHere />
      <button
        type="button"
        onClick={turn}
        aria-label={`Use the ${other} theme`}
        className="flex size-11 items-center justify-center rounded-md hover:bg-bar-line max-md:hidden"
      >
        {theme === 'light' ? <Moon size={20} /> : <Sun size={20} />}
      </button>
      <Places turn={turn} other={other} />
    </header>
  )
}

const PLACES = [
  { to: '/', name: 'Shop floor' },
  { to: '/bring-in', name: 'Bring in a machine' },
  { to: '/parts', name: 'Parts room' },
  { to: '/guide', name: 'Bench guide and words' },
  { to: '/workshop', name: 'Workshop' },
]

/** A phone's way to every place: two touches. */
function Places({ turn, other }: { turn: () => void; other: string }) {
  return (
    <Aside
      label="Places"
      align="end"
      className="w-64 p-2"
      opener={
        <button
          type="button"
          aria-label="Places"
          className="flex size-11 items-center justify-center rounded-md hover:bg-bar-line md:hidden"
        >
          <Menu size={22} aria-hidden="true" />
        </button>
      }
    >
      {PLACES.map(({ to, name }) => (
        <Close leads key={to}>
          <Link to={to} className="flex min-h-12 items-center rounded px-3 hover:bg-paper">
            {name}
          </Link>
        </Close>
      ))}
      <button
        type="button"
        onClick={turn}
        className="flex min-h-12 w-full items-center rounded border-t border-line px-3 text-left hover:bg-paper"
      >
        Use the {other} theme
      </button>
    </Aside>
  )
}

/** Who is at this browser: named in everything that is written here. */
function HandHere() {
  const here = useHand()
  const { data } = useWorkshop()
  useEffect(() => {
    if (data) takeWorkshop(data)
  }, [data])
  const people = (data?.people ?? []).filter((each) => !each.archived).map((each) => each.name)
  const names = [BENCH, ...people, ...(here === BENCH || people.includes(here) ? [] : [here])]
  return (
    <div className="flex items-center gap-1 text-sm">
      <label className="flex items-center gap-2 text-bar-quiet">
        <span className="max-2xl:sr-only">at this browser</span>
        <select
          value={here}
          onChange={(event) => setHand(event.target.value)}
          className="h-11 max-w-40 max-sm:max-w-20 rounded-md border border-bar-line bg-bar px-2 text-base text-on-bar"
        >
          {names.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <Link
        to="/guide"
        aria-label="Bench guide"
        title="Bench guide"
        className="flex size-11 max-md:hidden items-center justify-center rounded-md hover:bg-bar-line"
      >
        <BookOpen size={20} aria-hidden="true" />
      </Link>
      <Link
        to="/parts"
        aria-label="Parts"
        title="Parts"
        className="flex size-11 max-md:hidden items-center justify-center rounded-md hover:bg-bar-line"
      >
        <Package size={20} aria-hidden="true" />
      </Link>
      <Link
        to="/workshop"
        aria-label={data?.name || 'Workshop'}
        className="flex max-md:hidden min-h-11 min-w-11 items-center justify-center gap-2 underline-offset-4 hover:underline"
      >
        <Store size={20} aria-hidden="true" />
        <span className="max-w-40 truncate max-xl:hidden">{data?.name || 'Workshop'}</span>
      </Link>
    </div>
  )
}
