import { useQuery } from '@tanstack/react-query'
import { useSession } from '../app/session'
import { Blank, Button, Notice } from '../design/controls'
import { PieceRow } from './piece-row'
import { listPieces, type Piece } from './pieces'

export function usePieces() {
  const { person } = useSession()
  return useQuery({
    queryKey: ['pieces', person.id],
    queryFn: () => listPieces(person.id),
    refetchInterval: 5000,
    staleTime: 0,
  })
}

/** The screen for work that was interrupted, and for work that is open somewhere right now. */
export function Rescue() {
  const { data, isPending, isError, refetch } = usePieces()
  const part = (title: string, explanation: string, pieces: Piece[], empty: string) => (
    <section className="mb-10" aria-label={title}>
      <h2 className="text-[17px] font-semibold">{title}</h2>
      <p className="mb-2 text-soft">{explanation}</p>
      {pieces.length === 0 ? (
        <p className="bars rounded-md border px-4 py-5">
          <span className="bg-desk px-2">{empty}</span>
        </p>
      ) : (
        <ul className="border-t">
          {pieces.map((piece) => (
            <PieceRow key={piece.id} piece={piece} />
          ))}
        </ul>
      )}
    </section>
  )
  if (isPending) return <Blank title="Looking for work …" waiting />
  if (isError)
    return (
      <Blank title="Rescue could not look everywhere">
        <Button onClick={() => refetch()}>Try again</Button>
      </Blank>
    )
  const of = (...states: Piece['state'][]) => data.pieces.filter((piece) => states.includes(piece.state))
  return (
    <main className="h-full overflow-auto">
      {!data.device && (
        <Notice tone="alarm">
          This device’s journal cannot be read, so only what is on shared storage is listed here.
        </Notice>
      )}
      {!data.complete && (
        <Notice tone="alarm">Shared storage does not answer, so only what this device keeps is listed here.</Notice>
      )}
      <div className="mx-auto max-w-[1080px] px-8 py-8">
        <h1 className="mb-6 text-[26px] font-semibold leading-8">Rescue</h1>
        {part(
          'Found after an interruption',
          'Work that was cut off before it was saved. Nothing here is thrown away by going on.',
          of('interrupted'),
          'Nothing was interrupted.',
        )}
        {part(
          'Open right now',
          'Your work that has unsaved changes on a page that is open somewhere.',
          of('here', 'elsewhere'),
          'No unsaved work is open anywhere else.',
        )}
        {part(
          'Set aside',
          'Closed without saving, or let go. It is kept for 14 days.',
          of('closed', 'let go'),
          'Nothing was set aside.',
        )}
      </div>
    </main>
  )
}
