// What is printed: how far it is, what is wrong, and what can be done about it.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { toast } from 'sonner'
import type { PrintJob } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button } from '../design/controls'
import { t, told } from '../words/all'
import { listed, moment } from '../words/formats'
import { jobsQuery } from './likes'
import { reasonWords } from './reasons'

/** What is over stays in sight for so long; milliseconds. */
const inSight = 3600_000
const isUnderWay = ({ state }: PrintJob) => state === 'waiting' || state === 'printing' || state === 'stopped'

export function Jobs() {
  const jobs = useQuery(jobsQuery)
  const there = (jobs.data ?? []).filter(
    (job) => isUnderWay(job) || job.hasBacks || Date.now() - new Date(job.since).getTime() < inSight,
  )
  if (!there.length) return null
  return (
    <ul aria-label={t('paper.being-printed')} className="max-h-[60%] shrink-0 overflow-auto border-b bg-paper px-4">
      {there.map((job) => (
        <Job key={job.id} job={job} />
      ))}
    </ul>
  )
}

function Job({ job }: { job: PrintJob }) {
  const client = useQueryClient()
  const act = async (what: () => Promise<unknown>) => {
    try {
      await what()
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again'))
    }
    void client.invalidateQueries({ queryKey: keys.printing() })
  }
  const params = { jobId: job.id }
  const wrong = job.state === 'failed' || job.state === 'lost' || job.state === 'stopped' || job.said !== null
  const reasons = reasonWords(job.reasons)
  return (
    <li className="border-b py-2 last:border-b-0">
      <div className="flex flex-wrap items-center gap-x-3">
        <span className="min-w-0 flex-1 basis-48">
          <span className="block truncate font-medium">{job.name}</span>
          <span className={clsx('block text-[13px] leading-[18px]', wrong ? 'text-rust' : 'text-soft')} role="status">
            {t('paper.job-state', {
              state: job.state,
              done: job.done,
              faces: job.faces,
              printer: job.printer,
              at: moment(job.since),
            })}
            {reasons.length > 0 && ` ${listed(reasons)}.`}
            {job.said !== null && ` ${told(job.said)}`}
          </span>
        </span>
        {isUnderWay(job) && (
          <Button
            look="quiet"
            aria-label={t('paper.cancel-which', { name: job.name })}
            onClick={() => act(() => call('cancelPrint', { params }))}
          >
            {t('common.cancel')}
          </Button>
        )}
        {job.again && !job.hasBacks && (
          <Button
            look="quiet"
            aria-label={t('paper.again-which', { name: job.name })}
            onClick={() => act(() => call('printAgain', { params }))}
          >
            {t('paper.again')}
          </Button>
        )}
      </div>
      {isUnderWay(job) && (
        <progress
          className="mt-1 block h-1 w-full accent-accent"
          value={job.done}
          max={job.faces}
          aria-label={t('paper.faces-done', { done: job.done, faces: job.faces })}
        />
      )}
      {job.hasBacks && (
        <div className="mt-1 flex flex-wrap items-center gap-3 text-[14px] leading-[20px]">
          <p className="min-w-0 flex-1 basis-56">{t('paper.turn-the-stack')}</p>
          <Button look="main" onClick={() => act(() => call('printBacks', { params }))}>
            {t('paper.print-backs')}
          </Button>
        </div>
      )}
    </li>
  )
}
