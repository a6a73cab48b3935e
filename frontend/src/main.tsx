import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource/atkinson-hyperlegible-mono/400.css'
import '@fontsource/atkinson-hyperlegible-mono/600.css'
import './styles.css'
import './parts/field/reading'
import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode, Suspense } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter, Navigate, Route, Routes } from 'react-router'
import { followReads } from './api/outbox/reads'
import { cache } from './api/server/cache'
import { api } from './api/server/client'
import { whenHandsChange } from './api/server/hand'
import { forgetLastPage, takeUpLastPage } from './api/server/lastPage'
import { unitsUnknown, useUnits } from './api/server/units'
import { takeWorkshop } from './api/server/workshop'
import { Boundary } from './parts/Boundary'
import {
  AltitudeCard,
  BeltPlace,
  BringIn,
  fetchOthers,
  GuidePlace,
  LogPlace,
  MachinePlace,
  PartsPlace,
  ShopFloor,
  VisitPlace,
  WorkshopPlace,
} from './places/places'

/** Every page, drawn anew when the hand reads in other units. */
function Places() {
  return (
    <Routes key={JSON.stringify(useUnits())}>
      <Route path="/" element={<ShopFloor />} />
      <Route path="/machines/:machineId" element={<MachinePlace />} />
      <Route path="/visits/:visitId" element={<Navigate to="intake" replace />} />
      <Route path="/visits/:visitId/altitude-card" element={<AltitudeCard />} />
      <Route path="/visits/:visitId/:station" element={<VisitPlace />} />
      <Route path="/workshop" element={<WorkshopPlace />} />
      <Route path="/workshop/log" element={<LogPlace />} />
      <Route path="/belts/:beltId" element={<BeltPlace />} />
      <Route path="/guide" element={<GuidePlace />} />
      <Route path="/guide/:kind" element={<GuidePlace />} />
      <Route path="/guide/:kind/:job" element={<GuidePlace />} />
      <Route path="/parts" element={<PartsPlace />} />
      <Route path="/bring-in" element={<BringIn />} />
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  )
}

/**
 * So long a browser that was never told its units waits for a slow server: drawn anew later, a page would lose what is
 * typed. One that is away refuses at once.
 */
const FIRST_UNITS_MS = 30_000

async function firstUnits() {
  if (!unitsUnknown()) return
  const answer = await api.GET('/api/workshop', { signal: AbortSignal.timeout(FIRST_UNITS_MS) })
  if (answer.data) takeWorkshop(answer.data)
}

function draw() {
  createRoot(document.getElementById('root') as HTMLElement).render(
    <StrictMode>
      <QueryClientProvider client={cache}>
        <BrowserRouter>
          <Boundary>
            <Suspense fallback={<h1 className="p-8 text-lg text-quiet">Opening…</h1>}>
              <Places />
            </Suspense>
          </Boundary>
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  )
}

// A server that is away is said on the page itself.
Promise.allSettled([firstUnits(), takeUpLastPage()]).then(draw)
whenHandsChange(forgetLastPage)
followReads()
fetchOthers()

// Where a browser does not trust the address there is no worker: a page reloaded without the server is then none.
if (import.meta.env.PROD) navigator.serviceWorker?.register('/worker.js').catch(() => undefined)
