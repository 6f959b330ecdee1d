import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { saidBy } from '../../core/words/said'
import { Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { T, t, told } from '../words'
import { clock, moment, span } from '../words/formats'
import { unnamed } from '../words/unnamed'
import { endPiece } from '../work/ending'
import { useOpenWorks } from '../work/open-list'
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
  if (piece.from === 'nowhere')
    return t('rescue.none-of-it-on-the-server', { beyondInWords: beyondInWords(piece.beyond) })
  return looked.data && looked.data.kind !== 'damaged'
    ? told(looked.data.summary)
    : `${beyondInWords(piece.beyond).replace(/^./, (letter) => letter.toUpperCase())}.`
}

/** One piece of work that nobody has open: what it is, how much is in it, and what can be done with it. */
export function PieceRow({ piece, brief }: { piece: Piece; brief?: boolean }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const { settings } = useSession()
  const [busy, setBusy] = useState(false)
  const summary = useSummary(piece, !brief && piece.from !== 'nowhere')
  const end = async (state: 'let go' | 'open') => {
    try {
      await endPiece(piece.id, state, settings.keptDays)
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : told(saidBy(error)))
    }
    await client.invalidateQueries({ queryKey: keys.pieces() })
  }
  /** The file that work which parted is taken into. */
  const into = piece.forkOf?.fileId ?? piece.fileId
  const next = async () => {
    setBusy(true)
    try {
      const { version } = await (await inside()).saveAsNext(piece.id)
      toast(t('rescue.is-saved-as-version', { pieceName: piece.name, number: version.number }))
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : told(saidBy(error)))
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
          {!brief && piece.state === 'let go' && t('rescue.closed-without-saving')}
          {!brief && piece.state === 'closed' && t('rescue.closed-without-saving')}
          <T
            k="rescue.up-to-never-saved"
            v={{
              it: piece.lastEditAt ? moment(piece.lastEditAt) : t('rescue.an-unknown-time'),
              forkOf: Boolean(piece.forkOf),
              pieceName: Boolean(piece.name),
              summary,
              span: (c) => <span className="text-ink">{c}</span>,
            }}
          />
        </p>
        {piece.refused && (
          <p role="alert" className="text-[14px] text-rust">
            {t('rescue.its-save-as-was-refused-the-work', {
              refusedNameIs: Boolean(piece.refused.name),
              title: told(piece.refused.problem),
              refusedName: piece.refused.name,
            })}
          </p>
        )}
        {piece.missing && (
          <p role="alert" className="text-[14px] text-rust" data-testid="missing">
            {t('rescue.changes-are-on-only-and-come-when', {
              edits: piece.missing.edits,
              deviceName: piece.missing.deviceName,
            })}
          </p>
        )}
        {!brief && (
          <p className="text-[14px] text-soft">
            {piece.forkOf && t('rescue.it-is-what-only-that-computer-had')}
            {t('rescue.from-the-recovery-point-of-written-on', {
              from: Boolean(piece.from === 'device'),
              fromIs: Boolean(piece.from === 'nowhere'),
              pointAt: Boolean(piece.pointAt),
              pointAt2: piece.pointAt && moment(piece.pointAt),
              device: piece.device,
            })}
            {piece.keptIn && t('rescue.protected-in-where-its-managers-see-it', { keptIn: piece.keptIn.join(' / ') })}
            {piece.keptUntil && t('rescue.kept-until', { keptUntil: moment(piece.keptUntil) })}
          </p>
        )}
      </div>
      <div className={brief ? 'flex flex-wrap gap-2' : 'flex basis-full flex-wrap gap-2 pl-11'}>
        {brief ? (
          <>
            <Button onClick={() => navigate(`/draft/${piece.id}`)}>{t('rescue.go-on-with-it')}</Button>
            <Link to="/rescue" className="inline-flex h-8 items-center px-2 text-accent underline">
              {t('rescue.in-rescue')}
            </Link>
          </>
        ) : (
          <>
            {piece.from !== 'nowhere' && (
              <Button onClick={() => navigate(`/rescue/${piece.id}`)}>{t('common.look-inside')}</Button>
            )}
            {piece.fileId && piece.from !== 'nowhere' && !piece.forkOf && (
              <Button disabled={busy} onClick={next}>
                {t('rescue.save-as-the-next-version')}
              </Button>
            )}
            {piece.from !== 'nowhere' && (
              <Button onClick={() => navigate(`/draft/${piece.id}?as=separate`)}>
                {t('common.save-as-a-separate-file')}
              </Button>
            )}
            {piece.state === 'let go' || piece.state === 'closed' ? (
              <Button look="quiet" onClick={() => end('open')}>
                {t('rescue.get-it-back')}
              </Button>
            ) : (
              <Button look="quiet" onClick={() => end('let go')}>
                {t('common.close-without-saving')}
              </Button>
            )}
            {piece.forkOf && (
              <Button onClick={() => navigate(into ? `/open/${into}` : `/draft/${piece.forkOf!.draftId}`)}>
                {t('rescue.combine-with', { it: piece.name ?? t('rescue.the-other-work') })}
              </Button>
            )}
            {piece.from !== 'nowhere' && (
              <Button look="main" onClick={() => navigate(`/draft/${piece.id}`)}>
                {t('rescue.go-on-with-it')}
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
  const last =
    beyondPoint?.since && lastEditAt && lastEditAt > beyondPoint.since
      ? span(Date.parse(lastEditAt) - Date.parse(beyondPoint.since))
      : null
  const hangs = piece.page === 'hangs'
  const inThisTab = useOpenWorks().find(({ draftId }) => draftId === piece.id)
  return (
    <li
      className={`flex flex-wrap items-center gap-x-6 gap-y-2 border-b py-3 last:border-b-0 ${hangs ? 'shadow-[inset_3px_0_0_var(--rust)] pl-4' : ''}`}
      data-testid="live"
    >
      <KindGlyph type={piece.kind === 'document' ? 'docx' : 'xlsx'} size={20} />
      <div className="min-w-0 flex-1 basis-64">
        <Name piece={piece} />
        <p className="text-[14px] text-soft">
          <T
            k="rescue.on-on-this-computer-up-to-no"
            v={{
              it: piece.mine ? t('common.you') : piece.person,
              device: piece.device,
              it2: hangs ? (
                <strong className="font-medium text-rust">{t('rescue.the-page-does-not-answer-any-more')}</strong>
              ) : piece.page === 'silent' ? (
                t('rescue.whether-the-page-answers-is-not-known')
              ) : (
                t('rescue.the-page-answers-last-at', {
                  answeredAt: Boolean(piece.answeredAt),
                  parse: piece.answeredAt && clock(Date.parse(piece.answeredAt)),
                })
              ),
              it3: lastEditAt ? clock(Date.parse(lastEditAt)) : t('rescue.its-beginning'),
              pointAt: Boolean(piece.pointAt),
              parse: piece.pointAt && clock(Date.parse(piece.pointAt)),
            }}
          />
        </p>
        <p className="text-[14px] text-soft">
          {piece.pointsOff && t('rescue.it-does-not-go-to-the-server')}
          {beyondPoint
            ? t('rescue.only-its-computer-has-as-of', {
                it:
                  [
                    last && t('rescue.the-last', { span: last }),
                    beyondPoint.beyond && beyondInWords(beyondPoint.beyond),
                  ]
                    .filter(Boolean)
                    .join(': ') || t('rescue.what-came-after-the-last-recovery-point'),
                at: Boolean(beyondPoint.at),
                parse: beyondPoint.at && clock(Date.parse(beyondPoint.at)),
              })
            : piece.answeredAt
              ? t('rescue.everything-that-its-computer-had-at-is', { parse: clock(Date.parse(piece.answeredAt)) })
              : t('rescue.the-server-does-not-answer-so-what')}
        </p>
      </div>
      {inThisTab && <Button onClick={() => navigate(inThisTab.address)}>{t('rescue.go-to-it')}</Button>}
      {piece.mine && piece.state === 'elsewhere' && (
        <Button onClick={() => navigate(`/draft/${piece.id}`)}>{t('rescue.go-on-with-it-here')}</Button>
      )}
      <Button look={hangs ? 'main' : 'plain'} onClick={() => navigate(`/rescue/${piece.id}`)}>
        {t('common.look-inside')}
      </Button>
    </li>
  )
}
