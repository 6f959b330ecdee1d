import { useQueryClient } from '@tanstack/react-query'
import { Link, useNavigate } from 'react-router'
import { unnamed } from '../../core/naming/propose'
import { call, isAway } from '../app/call'
import { Button } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { moment } from '../design/words'
import { readDraft } from '../workers/journal-store'
import { beyondInWords, type Piece } from './pieces'
import { setAside } from './set-aside'

const states: Record<Piece['state'], string> = {
  interrupted: 'Interrupted',
  here: 'Open in another tab here',
  elsewhere: 'Open on another device',
  closed: 'Closed without saving',
  'let go': 'Let go',
}

/** One piece of work: what it is, how much is in it beyond the last version, and what can be done with it. */
export function PieceRow({ piece, brief }: { piece: Piece; brief?: boolean }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const live = piece.state === 'here' || piece.state === 'elsewhere'
  const end = async (state: 'let go' | 'closed') => {
    const stored = await readDraft(piece.id).catch(() => undefined)
    if (stored) await setAside(stored, state)
    await call('endDraft', { params: { draftId: piece.id }, body: { state } }).catch((error) => {
      if (!isAway(error) && !stored) throw error
    })
    await client.invalidateQueries({ queryKey: ['pieces'] })
  }
  return (
    <li className="flex flex-wrap items-center gap-x-6 gap-y-2 border-b py-3 last:border-b-0" data-testid="piece">
      <KindGlyph type={piece.kind === 'document' ? 'docx' : 'xlsx'} size={20} />
      <div className="min-w-0 flex-1">
        <p className="truncate">
          {piece.name ? (
            <NameParts name={piece.name} className="font-mono font-medium" />
          ) : (
            <span className="font-medium italic">{unnamed(piece.kind, new Date(piece.bornAt))}</span>
          )}
        </p>
        <p className="text-[14px] text-soft">
          {piece.where.length > 0 && <span>In {piece.where.join(' / ')}. </span>}
          {!brief && <span>{states[piece.state]}. </span>}
          {live ? 'Last change' : 'Up to'} {piece.lastEditAt ? moment(piece.lastEditAt) : 'an unknown time'},{' '}
          {piece.name ? 'beyond the last version' : 'never saved'}: {beyondInWords(piece.beyond)}.
        </p>
        {!brief && (
          <p className="text-[14px] text-soft">
            {piece.opening && <span>Begins “{piece.opening.slice(0, 60)}”. </span>}
            From{' '}
            {piece.from === 'device'
              ? 'this device’s journal'
              : `the recovery point${piece.pointAt ? ` of ${moment(piece.pointAt)}` : ''}`}
            ; written on {piece.device}.{piece.keptUntil && ` Kept until ${moment(piece.keptUntil)}.`}
          </p>
        )}
      </div>
      <div className="flex gap-2">
        {piece.state === 'here' ? null : piece.state === 'elsewhere' ? null : (
          <>
            <Button look={brief ? 'plain' : 'main'} onClick={() => navigate(`/draft/${piece.id}`)}>
              Go on with it
            </Button>
            {!brief && (
              <Button onClick={() => navigate(`/draft/${piece.id}?as=separate`)}>Keep as a separate file</Button>
            )}
            {!brief &&
              (piece.state === 'let go' ? (
                <Button look="quiet" onClick={() => end('closed')}>
                  Call it back
                </Button>
              ) : (
                <Button look="quiet" onClick={() => end('let go')}>
                  Let it go
                </Button>
              ))}
          </>
        )}
        {brief && (
          <Link to="/rescue" className="inline-flex h-8 items-center px-2 text-accent underline">
            In Rescue
          </Link>
        )}
      </div>
    </li>
  )
}
