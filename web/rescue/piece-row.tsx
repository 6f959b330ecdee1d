import { useQuery, useQueryClient } from '@tanstack/react-query'
import { formatDistanceStrict } from 'date-fns'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { unnamed } from '../../core/naming/propose'
import { Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../app/session'
import { Button } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { clock, count, moment } from '../design/words'
import { endPiece } from '../work/ending'
import { beyondInWords, type Piece } from '../work/pieces'

/** What reads and writes work is fetched when it is needed: the Desk waits for none of it. */
const inside = () => import('./inside')

/** What is in a piece beyond its last version, by its content; by what the journal counted until that is known. */
function useSummary(piece: Piece, wanted: boolean): string {
  const looked = useQuery({
    queryKey: keys.summary(piece.id, piece.seq),
    enabled: wanted,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
    queryFn: async () => (await (await inside()).lookInside(piece.id))?.inside ?? null,
  })
  if (piece.from === 'nowhere') return `${beyondInWords(piece.beyond)}, none of it on shared storage.`
  return looked.data && looked.data.kind !== 'damaged'
    ? looked.data.summary
    : `${beyondInWords(piece.beyond).replace(/^./, (letter) => letter.toUpperCase())}.`
}

/** One piece of work that nobody has open: what it is, how much is in it, and what can be done with it. */
export function PieceRow({ piece, brief }: { piece: Piece; brief?: boolean }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const { settings } = useSession()
  const [busy, setBusy] = useState(false)
  const summary = useSummary(piece, !brief && piece.from !== 'nowhere')
  const end = async (state: 'let go' | 'closed') => {
    try {
      await endPiece(piece.id, state, settings.keptDays)
    } catch (error) {
      toast.error(error instanceof Refused ? error.problem.title : (error as Error).message)
    }
    await client.invalidateQueries({ queryKey: keys.pieces() })
  }
  /** The file that work which parted is taken into. */
  const into = piece.forkOf?.fileId ?? piece.fileId
  const next = async () => {
    setBusy(true)
    try {
      const { version } = await (await inside()).saveAsNext(piece.id)
      toast(`${piece.name} is saved as version ${version.number}.`)
    } catch (error) {
      toast.error(error instanceof Refused ? error.problem.title : (error as Error).message)
    }
    setBusy(false)
    await client.invalidateQueries({ queryKey: keys.pieces() })
  }
  return (
    <li className="flex flex-wrap items-center gap-x-6 gap-y-2 border-b py-3 last:border-b-0" data-testid="piece">
      <KindGlyph type={piece.kind === 'document' ? 'docx' : 'xlsx'} size={20} />
      <div className="min-w-0 flex-1 basis-64">
        <Name piece={piece} />
        <p className="text-[14px] text-soft">
          {!brief && piece.state === 'let go' && 'Let go. '}
          {!brief && piece.state === 'closed' && 'Closed without saving. '}
          Up to {piece.lastEditAt ? moment(piece.lastEditAt) : 'an unknown time'},{' '}
          {piece.forkOf ? 'what only that device had' : piece.name ? 'beyond the last version' : 'never saved'}:{' '}
          <span className="text-ink">{summary}</span>
        </p>
        {piece.refused && (
          <p role="alert" className="text-[14px] text-rust">
            Its save{piece.refused.name && ` as ${piece.refused.name}`} was refused: {piece.refused.problem.title} The
            work is here, unsaved.
          </p>
        )}
        {piece.missing && (
          <p role="alert" className="text-[14px] text-rust" data-testid="missing">
            {count(piece.missing.edits, 'edit')} {piece.missing.edits === 1 ? 'is' : 'are'} on{' '}
            {piece.missing.deviceName} only, and {piece.missing.edits === 1 ? 'comes' : 'come'} when that device is
            heard from again.
          </p>
        )}
        {!brief && (
          <p className="text-[14px] text-soft">
            {piece.forkOf && 'It parted from work that was gone on with elsewhere. '}
            {piece.from === 'device'
              ? 'From this device’s journal'
              : piece.from === 'nowhere'
                ? 'There is no recovery point of it'
                : `From the recovery point${piece.pointAt ? ` of ${moment(piece.pointAt)}` : ''}`}
            ; written on {piece.device}.
            {piece.keptIn && ` Protected in ${piece.keptIn.join(' / ')}, where its managers see it.`}
            {piece.keptUntil && ` Kept until ${moment(piece.keptUntil)}.`}
          </p>
        )}
      </div>
      <div className={brief ? 'flex flex-wrap gap-2' : 'flex basis-full flex-wrap gap-2 pl-11'}>
        {brief ? (
          <>
            <Button onClick={() => navigate(`/draft/${piece.id}`)}>Go on with it</Button>
            <Link to="/rescue" className="inline-flex h-8 items-center px-2 text-accent underline">
              In Rescue
            </Link>
          </>
        ) : (
          <>
            {piece.from !== 'nowhere' && <Button onClick={() => navigate(`/rescue/${piece.id}`)}>Look inside</Button>}
            {piece.fileId && piece.from !== 'nowhere' && !piece.forkOf && (
              <Button disabled={busy} onClick={next}>
                Save as the next version
              </Button>
            )}
            {piece.from !== 'nowhere' && (
              <Button onClick={() => navigate(`/draft/${piece.id}?as=separate`)}>Keep as a separate file</Button>
            )}
            {piece.state === 'let go' ? (
              <Button look="quiet" onClick={() => end('closed')}>
                Call it back
              </Button>
            ) : (
              <Button look="quiet" onClick={() => end('let go')}>
                Let it go
              </Button>
            )}
            {piece.forkOf && (
              <Button onClick={() => navigate(into ? `/open/${into}` : `/draft/${piece.forkOf!.draftId}`)}>
                Take it into {piece.name ?? 'the other work'}
              </Button>
            )}
            {piece.from !== 'nowhere' && (
              <Button look="main" onClick={() => navigate(`/draft/${piece.id}`)}>
                Go on with it
              </Button>
            )}
          </>
        )}
      </div>
    </li>
  )
}

function Name({ piece }: { piece: Piece }) {
  return (
    <p className="truncate">
      {piece.name ? (
        <>
          {piece.where.length > 0 && <span className="text-[14px] text-soft">{piece.where.join(' / ')} / </span>}
          <NameParts name={piece.name} className="font-mono font-medium" />
        </>
      ) : (
        <>
          <span className="font-medium italic">{unnamed(piece.kind, new Date(piece.bornAt), piece.opening)}</span>
          {piece.opening && <span className="pl-2">“{piece.opening.slice(0, 60)}”</span>}
        </>
      )}
    </p>
  )
}

/** Work that a page has open right now, and what would be lost of it if that page or its device ended this second. */
export function LiveRow({ piece }: { piece: Piece }) {
  const navigate = useNavigate()
  const { beyondPoint, lastEditAt } = piece
  const span =
    beyondPoint?.since && lastEditAt && lastEditAt > beyondPoint.since
      ? formatDistanceStrict(new Date(lastEditAt), new Date(beyondPoint.since))
      : null
  const hangs = piece.page === 'hangs'
  return (
    <li
      className={`flex flex-wrap items-center gap-x-6 gap-y-2 border-b py-3 last:border-b-0 ${hangs ? 'shadow-[inset_3px_0_0_var(--rust)] pl-4' : ''}`}
      data-testid="live"
    >
      <KindGlyph type={piece.kind === 'document' ? 'docx' : 'xlsx'} size={20} />
      <div className="min-w-0 flex-1 basis-64">
        <Name piece={piece} />
        <p className="text-[14px] text-soft">
          {piece.mine ? 'You' : piece.person}, on {piece.device}.{' '}
          {hangs ? (
            <strong className="font-medium text-rust">
              The page does not answer any more; its journal still does.
            </strong>
          ) : piece.page === 'silent' ? (
            'Whether the page answers is not known right now.'
          ) : (
            <>The page answers{piece.answeredAt && `, last at ${clock(Date.parse(piece.answeredAt))}`}.</>
          )}{' '}
          Journal up to {lastEditAt ? clock(Date.parse(lastEditAt)) : 'its beginning'},{' '}
          {piece.pointAt ? `recovery point of ${clock(Date.parse(piece.pointAt))}` : 'no recovery point yet'}.
        </p>
        <p className="text-[14px] text-soft">
          {piece.pointsOff && 'Recovery points are off for it. '}
          {beyondPoint
            ? `Only its device has ${[span && `the last ${span}`, beyondPoint.beyond && beyondInWords(beyondPoint.beyond)].filter(Boolean).join(': ') || 'what came after the last recovery point'}${beyondPoint.at ? `, as it told at ${clock(Date.parse(beyondPoint.at))}` : ''}.`
            : piece.answeredAt
              ? `Everything that its device told of at ${clock(Date.parse(piece.answeredAt))} is on shared storage.`
              : 'Shared storage does not answer, so what it has of it is not known.'}
        </p>
      </div>
      {piece.mine && piece.state === 'elsewhere' && (
        <Button onClick={() => navigate(`/draft/${piece.id}`)}>Go on with it here</Button>
      )}
      <Button look={hangs ? 'main' : 'plain'} onClick={() => navigate(`/rescue/${piece.id}`)}>
        Look inside
      </Button>
    </li>
  )
}
