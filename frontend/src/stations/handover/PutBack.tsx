// What the hand-over tells of putting back: torques with who gave them, the line-up, what was counted in.
import type { VisitView } from '../../api/client'
import { day, signed, signedReading, told, unitName } from '../../parts/format'
import { Row } from './Row'

type Fastener = VisitView['rebuild']['steps'][number]['fasteners'][number]

/** What a fastener was given: its torque, or what it was tightened by. */
function tightAs({ done, tightness }: Fastener): string {
  if (done.torque_nm != null) return told(done.torque_nm, 'N·m')
  return tightness === 'torque' ? `tight${done.means ? `, ${done.means}` : ''}` : tightness
}

/** Every fastener that went back, with its torque, who gave it and when; what is owed by name. */
export function PutBack({ visit }: { visit: VisitView }) {
  const steps = visit.rebuild.steps.filter((step) => step.fasteners.length > 0 || step.accepted)
  return (
    <Row name="Put back">
      {steps.length === 0 && 'nothing was opened'}
      {steps.map((step) => (
        <div key={step.place}>
          {step.accepted && (
            <p className="text-signal-words">
              {step.amiss.join('; ')}: left so, {step.accepted}
            </p>
          )}
          {step.fasteners.map((each) => (
            <p key={each.key}>
              {each.place}
              {each.count > 1 && ` ×${each.count}`}, {step.side}:{' '}
              {each.done.state === 'done' ? (
                <>
                  <b>{tightAs(each)}</b>
                  <span className="text-quiet">
                    {each.done.torque_nm != null &&
                      each.done.means &&
                      each.done.means !== 'wrench' &&
                      `, ${each.done.means}`}{' '}
                    · {each.done.by}, {day(each.done.at ?? '')}
                  </span>
                </>
              ) : (
                <b className="text-signal-words">{each.done.state === 'owed' ? 'torque owed' : 'not tightened'}</b>
              )}
            </p>
          ))}
        </div>
      ))}
    </Row>
  )
}

export function LinedUp({ visit }: { visit: VisitView }) {
  const { alignment, read, out } = visit.line_up
  return (
    <Row name="Line-up">
      {alignment ? (
        <>
          offset {alignment.offset_mm == null ? '–' : signedReading(alignment.offset_mm, 'mm', 1)} {unitName('mm')}, toe{' '}
          {signed(alignment.toe_deg, 2)}°{out.length > 0 && <b className="text-signal-words"> · {out.join('; ')}</b>}
          {read.reason && `: left so, ${read.reason}`}
        </>
      ) : (
        'not measured'
      )}
      {read.deflection_mm != null && ` · deflection ${told(read.deflection_mm, 'mm')}`}
      {read.ride_mm != null && ` · ${told(read.ride_mm, 'mm')} below the rim`}
    </Row>
  )
}

export function CountedIn({ visit }: { visit: VisitView }) {
  const { counts, missing, out, back } = visit.close
  const access = counts.filter((each) => each.sort === 'access')
  const short = Object.values(missing)
  return (
    <Row name="Counted in">
      {out > 0 && `${back} of ${out} fasteners and small parts`}
      {out === 0 && `${counts.length - short.length} of ${counts.length}`}
      {access.map((each) => (
        <p key={each.key}>
          {each.name}: {each.back ? 'refitted' : 'not refitted'}
          {each.note && `, ${each.note}`}
        </p>
      ))}
      {counts
        .filter((each) => each.back != null && missing[each.key])
        .map((each) => (
          <b key={each.key} className="block text-signal-words">
            {missing[each.key]}
          </b>
        ))}
    </Row>
  )
}
