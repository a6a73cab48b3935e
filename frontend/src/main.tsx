import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource/atkinson-hyperlegible-mono/400.css'
import '@fontsource/atkinson-hyperlegible-mono/600.css'
import './styles.css'
import './parts/field/reading'
import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter, Navigate, Route, Routes } from 'react-router'
import { cache } from './api/server/cache'
import { api } from './api/server/client'
import { setUnits, unitsUnknown, useUnits } from './api/server/units'
import { Boundary } from './parts/Boundary'
import { AltitudeCard } from './places/AltitudeCard'
import { BeltPlace } from './places/BeltPlace'
import { BringIn } from './places/BringIn'
import { GuidePlace } from './places/GuidePlace'
import { MachinePlace } from './places/MachinePlace'
import { PartsPlace } from './places/PartsPlace'
import { ShopFloor } from './places/ShopFloor'
import { VisitPlace } from './places/VisitPlace'
import { WorkshopPlace } from './places/WorkshopPlace'

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
  if (answer.data) setUnits(answer.data.shown)
}

function draw() {
  createRoot(document.getElementById('root') as HTMLElement).render(
    <StrictMode>
      <QueryClientProvider client={cache}>
        <BrowserRouter>
          <Boundary>
            <Places />
          </Boundary>
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  )
}

// A server that is away is said on the page itself.
firstUnits().then(draw, draw)
