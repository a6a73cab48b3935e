// What is kept of the workshop: its last good backup, its log, and bundles from elsewhere.
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, must } from '../../api/server/client'
import { buttonLook } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { day } from '../../parts/format'
import { BundleIn } from './BundleIn'

const A_DAY_MS = 24 * 3600 * 1000
const STALE_DAYS = 2

export function Kept() {
  const { data } = useQuery({ queryKey: ['health'], queryFn: () => must(api.GET('/api/health')) })
  const last = data?.backup
  const days = last ? Math.floor((Date.now() - Date.parse(last.at)) / A_DAY_MS) : 0
  return (
    <section className="min-w-0" aria-label="What is kept">
      <Heading aside="proved by putting it back beside">Backup and log</Heading>
      {data && (
        <p className="mb-3" data-backup>
          {last ? (
            <>
              Last good backup <b>{day(last.at)}</b>{' '}
              <span className={days >= STALE_DAYS ? 'text-watch' : 'text-quiet'}>
                {days === 0 ? 'today' : `${days} ${days === 1 ? 'day' : 'days'} ago`}
              </span>
              <span className="block text-sm wrap-anywhere text-quiet">
                {last.name}, {(last.size / 1e6).toFixed(1)} MB, {last.machines.toLocaleString('en')} machines,{' '}
                {last.visits.toLocaleString('en')} visits
              </span>
            </>
          ) : (
            <span className="text-watch">No backup yet: the README says how one is made each night.</span>
          )}
          {data.backup_failed && (
            <span role="alert" className="block text-replace">
              The last one could not be made: {data.backup_failed}.
            </span>
          )}
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        <Link to="/workshop/log" className={buttonLook('plain')}>
          Log
        </Link>
        <BundleIn />
      </div>
    </section>
  )
}
