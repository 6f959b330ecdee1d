// One file that there will be: what it is called and where it goes, what it is made of and why, and what can be otherwise.
import { ChevronDown, ChevronRight, Ellipsis } from 'lucide-react'
import { type FormEvent, useId, useState } from 'react'
import { Link } from 'react-router'
import type { Decisions, PlannedSeries } from '../../core/contract'
import { typeOfName } from '../../core/formats/types'
import { checkName } from '../../core/naming/check'
import { Button, Field } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { KindGlyph, NameParts } from '../design/kind'
import { Menu, MenuItem, Question } from '../design/overlay'
import { t, told } from '../words/all'
import { moment, size } from '../words/formats'

type What = Omit<Decisions['series'][number], 'no'>
type OfSeries = PlannedSeries['files'][number]

const faults: Record<NonNullable<OfSeries['fault']>, () => string> = {
  empty: () => t('drives.fault-empty'),
  damaged: () => t('drives.fault-damaged'),
  protected: () => t('drives.fault-protected'),
  unreadable: () => t('drives.fault-unreadable'),
  litter: () => t('drives.fault-litter'),
  'too large': () => t('drives.fault-large'),
}

/** @param open whether something can still be decided */
export function SeriesRow({
  one,
  open,
  onDecide,
}: {
  one: PlannedSeries
  open: boolean
  onDecide: (what: What) => Promise<boolean>
}) {
  const { name, folders, files, certainty, wanted, fileId } = one
  const [spread, setSpread] = useState(false)
  const [naming, setNaming] = useState(false)
  const id = useId()
  const several = files.length > 1
  const mine = open && !fileId
  const called = <NameParts name={name} className="block truncate font-mono text-[14px]" />
  const alarms = files.flatMap(({ refused, fault }) => [
    ...(refused ? [told(refused)] : []),
    ...(fault ? [faults[fault]()] : []),
  ])
  const doubts = [...one.doubts, ...(certainty === 'sure' ? [] : one.remarks)]
  const notes = [...one.why, ...(certainty === 'sure' ? one.remarks : [])]
  return (
    <li className="border-b px-1 py-2">
      <div className="grid grid-cols-[auto_20px_minmax(0,1fr)_auto] items-start gap-x-3">
        {mine ? (
          <input
            type="checkbox"
            aria-label={t('drives.take', { name })}
            className="mt-1 size-4 accent-[var(--accent)]"
            checked={wanted}
            onChange={(event) => void onDecide({ wanted: event.target.checked })}
          />
        ) : (
          <span />
        )}
        <span className="pt-0.5">
          <KindGlyph type={typeOfName(name)} />
        </span>
        <div className={`min-w-0 ${wanted ? '' : 'opacity-70'}`}>
          <div className="flex min-h-6 flex-wrap items-baseline gap-x-4">
            {fileId ? (
              <Link to={`/open/${fileId}`} className="min-w-0 hover:text-accent hover:underline">
                {called}
              </Link>
            ) : (
              called
            )}
            {folders.length > 0 && <span className="truncate text-[13.5px] text-soft">{folders.join(' / ')}</span>}
          </div>
          {several ? (
            <button
              type="button"
              aria-expanded={spread}
              aria-controls={id}
              onClick={() => setSpread(!spread)}
              className="-ml-1 flex items-center gap-1 rounded px-1 text-[13.5px] hover:bg-wash"
            >
              {spread ? <ChevronDown size={15} aria-hidden /> : <ChevronRight size={15} aria-hidden />}
              {t('drives.of-files', { n: files.length })}
            </button>
          ) : (
            files[0]!.path !== [...folders, name].join('/') && (
              <p className="truncate text-[13.5px] text-soft" title={files[0]!.path}>
                {t('drives.was', { path: files[0]!.path })}
              </p>
            )
          )}
          {alarms.length > 0 && <p className="text-[13.5px] leading-[19px] text-rust">{alarms.join(' ')}</p>}
          {doubts.length > 0 && (
            <p className="text-[13.5px] leading-[19px]">
              <span className="font-semibold">
                {certainty === 'by hand' ? t('drives.for-you') : t('drives.look-at')}
              </span>{' '}
              {doubts.map(told).join(' ')}
            </p>
          )}
          {notes.length > 0 && <p className="text-[13.5px] leading-[19px] text-soft">{notes.map(told).join(' ')}</p>}
        </div>
        {mine ? (
          <Menu
            trigger={
              <IconButton label={t('drives.otherwise', { name })}>
                <Ellipsis size={18} />
              </IconButton>
            }
          >
            <MenuItem onSelect={() => setNaming(true)}>{t('drives.name-or-place')}</MenuItem>
            {several && (
              <MenuItem onSelect={() => void onDecide({ apart: files.slice(0, -1).map(({ no }) => no) })}>
                {t('drives.no-versions')}
              </MenuItem>
            )}
          </Menu>
        ) : (
          <span />
        )}
      </div>
      {several && spread && (
        <ol id={id} className="ml-[68px] mt-1 border-l border-rule-strong">
          {files.map((file) => (
            <FileLine key={file.no} file={file} onApart={mine ? () => void onDecide({ apart: [file.no] }) : null} />
          ))}
        </ol>
      )}
      {naming && <NameQuestion one={one} onClose={() => setNaming(false)} onDecide={onDecide} />}
    </li>
  )
}

/** A file of a series: where it was, when it was written, by whom. */
function FileLine({ file, onApart }: { file: OfSeries; onApart: (() => void) | null }) {
  const { path, at, author, double, taken } = file
  const said = [
    moment(at),
    author && t('drives.written-by', { author }),
    size(file.size),
    double && t('drives.is-double'),
    taken && t('drives.is-in'),
  ].filter(Boolean)
  return (
    <li className="group flex flex-wrap items-baseline gap-x-4 py-1 pl-3">
      <span className="min-w-0 truncate font-mono text-[13.5px]" title={path}>
        {path}
      </span>
      <span className="min-w-0 flex-1 text-[13.5px] text-soft">{said.join(' · ')}</span>
      {onApart && (
        <Button
          look="quiet"
          className="h-7 text-[13.5px]"
          aria-label={t('drives.own-file-of', { path })}
          onClick={onApart}
        >
          {t('drives.own-file')}
        </Button>
      )}
    </li>
  )
}

function NameQuestion({
  one,
  onClose,
  onDecide,
}: {
  one: PlannedSeries
  onClose: () => void
  onDecide: (what: What) => Promise<boolean>
}) {
  const [name, setName] = useState(one.name)
  const [place, setPlace] = useState(one.folders.join(' / '))
  const folders = place
    .split('/')
    .map((step) => step.trim())
    .filter(Boolean)
  const nameFault = checkName(name)
  const otherType = !nameFault && typeOfName(name) !== typeOfName(one.name)
  const placeFault = folders.map(checkName).find((fault) => fault !== null)
  const fine = !nameFault && !placeFault && !otherType
  const keep = async (event: FormEvent) => {
    event.preventDefault()
    if (fine && (await onDecide({ name, folders }))) onClose()
  }
  return (
    <Question
      title={t('drives.name-or-place')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" type="submit" form="intake-name" disabled={!fine}>
            {t('drives.use-it')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <form id="intake-name" onSubmit={keep} className="grid gap-3 text-ink">
        <Field
          label={t('drives.name')}
          className="font-mono"
          value={name}
          onChange={(event) => setName(event.target.value)}
          fault={
            nameFault
              ? told(nameFault.reason)
              : otherType
                ? t('drives.keeps-type', { type: typeOfName(one.name) })
                : undefined
          }
        />
        <Field
          label={t('drives.place')}
          value={place}
          onChange={(event) => setPlace(event.target.value)}
          hint={t('drives.place-hint')}
          fault={placeFault ? told(placeFault.reason) : undefined}
        />
      </form>
    </Question>
  )
}
