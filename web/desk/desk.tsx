import { useQuery } from '@tanstack/react-query'
import { FileText, Table2, Upload } from 'lucide-react'
import { Link, useNavigate } from 'react-router'
import { call } from '../app/call'
import { useSession } from '../app/session'
import { Blank } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { moment } from '../design/words'
import { PieceRow } from '../rescue/piece-row'
import { usePieces } from '../rescue/rescue'

/** What needs you, and where you left off. */
export function Desk() {
  const navigate = useNavigate()
  const { person } = useSession()
  const pieces = usePieces()
  const recent = useQuery({ queryKey: ['recent'], queryFn: () => call('recent', {}) })
  const interrupted = pieces.data?.pieces.filter((piece) => piece.state === 'interrupted') ?? []
  const begin = [
    { label: 'New document', icon: <FileText className="text-plum" />, to: '/new/document' },
    { label: 'New spreadsheet', icon: <Table2 className="text-ochre" />, to: '/new/spreadsheet' },
    { label: 'Bring in files', icon: <Upload className="text-accent" />, to: '/files?bring=1' },
  ]
  return (
    <main className="h-full overflow-auto">
      <div className="mx-auto max-w-[1080px] px-8 py-8">
        <h1 className="text-[26px] font-semibold leading-8">
          Good {partOfDay()}, {person.name.split(' ')[0]}
        </h1>
        <ul className="mb-9 mt-5 flex flex-wrap gap-3">
          {begin.map(({ label, icon, to }) => (
            <li key={to}>
              <button
                type="button"
                onClick={() => navigate(to)}
                className="flex h-12 items-center gap-3 rounded-md border border-rule-strong bg-paper pl-4 pr-6 font-medium hover:bg-wash"
              >
                {icon}
                {label}
              </button>
            </li>
          ))}
        </ul>
        {interrupted.length > 0 && (
          <section
            className="mb-9 rounded-lg border border-ochre/50 bg-paper px-5 pb-1 pt-4"
            aria-label="Interrupted work"
          >
            <h2 className="text-[17px] font-semibold">
              {interrupted.length === 1
                ? 'One piece of work was interrupted'
                : `${interrupted.length} pieces of work were interrupted`}
            </h2>
            <ul>
              {interrupted.slice(0, 4).map((piece) => (
                <PieceRow key={piece.id} piece={piece} brief />
              ))}
            </ul>
          </section>
        )}
        <h2 className="mb-1 text-[17px] font-semibold">Used last</h2>
        {recent.isPending ? (
          <Blank title="One moment" waiting />
        ) : recent.isError ? (
          <p className="py-6 text-soft">
            Shared storage does not answer right now. Interrupted work on this device is listed all the same.
          </p>
        ) : recent.data.length === 0 ? (
          <Blank title="Nothing used yet">
            <p>
              Begin something new, or look in{' '}
              <Link className="text-accent underline" to="/files">
                Files
              </Link>
              .
            </p>
          </Blank>
        ) : (
          <ul className="border-t">
            {recent.data.map(({ file, share, folders, usedAt }) => (
              <li key={file.id} className="border-b">
                <Link
                  to={`/open/${file.id}`}
                  className="grid grid-cols-[20px_minmax(0,1.6fr)_minmax(0,1fr)_130px] items-center gap-4 px-1 py-2.5 hover:bg-wash"
                >
                  <KindGlyph type={file.type} />
                  <NameParts name={file.name} className="truncate font-mono text-[14px]" />
                  <span className="truncate text-[14px] text-soft">{[share, ...folders].join(' / ')}</span>
                  <span className="text-right text-[14px] text-soft">{moment(usedAt)}</span>
                </Link>
              </li>
            ))}
          </ul>
        )}
      </div>
    </main>
  )
}

function partOfDay(): string {
  const hour = new Date().getHours()
  return hour < 12 ? 'morning' : hour < 18 ? 'afternoon' : 'evening'
}
