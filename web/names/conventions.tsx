import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import type { Convention, Rules, Share, ShareNaming } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button, Field } from '../design/controls'
import { NameText } from '../design/kind'
import { Question } from '../design/overlay'
import { moment } from '../design/words'
import { type ChosenPlace, usePlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
import { ConventionEditor } from './convention-editor'
import { examplesOf } from './examples'

const fresh: Rules = {
  parts: [
    { id: 'date', label: 'Date', separator: '', optional: false, kind: 'date', form: 'YYYY-MM-DD', source: 'content' },
    {
      id: 'subject',
      label: 'Subject',
      separator: '_',
      optional: false,
      kind: 'words',
      letters: 'as typed',
      longest: 60,
      symbols: 'letters and digits',
      spaces: '-',
    },
  ],
  folders: [],
}

/** The conventions of a share, where each holds, and what its names look like. */
export function Conventions({ share, naming, mayChange }: { share: Share; naming: ShareNaming; mayChange: boolean }) {
  const client = useQueryClient()
  const [editing, setEditing] = useState<string | null>(null)
  const [starting, setStarting] = useState(false)
  const [ending, setEnding] = useState<Convention | null>(null)
  const again = () => client.invalidateQueries({ queryKey: keys.naming(share.id) })
  const edited = naming.conventions.find(({ id }) => id === editing)
  if (edited)
    return (
      <ConventionEditor
        key={edited.id}
        convention={edited}
        lists={naming.lists}
        share={share}
        mayChange={mayChange}
        onClose={() => setEditing(null)}
        onKept={again}
      />
    )
  return (
    <div className="mx-auto max-w-[860px] px-6 py-6">
      {naming.conventions.length === 0 ? (
        <Blank title={`${share.name} has no convention yet`}>
          <p>
            A convention says of which parts a name is made and in which folder a file goes. Names are then picked and
            not invented.
          </p>
          {mayChange && (
            <Button look="main" className="mt-4" onClick={() => setStarting(true)}>
              Begin one
            </Button>
          )}
        </Blank>
      ) : (
        <>
          <ul className="flex flex-col gap-4">
            {naming.conventions.map((convention) => (
              <li key={convention.id} className="rounded-lg border bg-paper px-5 py-4">
                <div className="flex items-start gap-4">
                  <div className="min-w-0 flex-1">
                    <h2 className="text-[17px] font-semibold">{convention.name}</h2>
                    <p className="text-[14px] text-soft">
                      holds in <Where share={share} folderId={convention.folderId} /> and below · version{' '}
                      {convention.number}, since {moment(convention.since)}, by {convention.author}
                    </p>
                  </div>
                  {mayChange && (
                    <Button look="quiet" onClick={() => setEnding(convention)}>
                      Detach
                    </Button>
                  )}
                  <Button onClick={() => setEditing(convention.id)}>{mayChange ? 'Change' : 'Look at it'}</Button>
                </div>
                <Examples rules={convention.rules} naming={naming} />
              </li>
            ))}
          </ul>
          {mayChange && (
            <Button className="mt-4" onClick={() => setStarting(true)}>
              <Plus size={16} aria-hidden />
              Another convention
            </Button>
          )}
        </>
      )}
      {starting && (
        <NewConvention
          share={share}
          naming={naming}
          onClose={() => setStarting(false)}
          onMade={(made) => {
            setStarting(false)
            void again().then(() => setEditing(made.id))
          }}
        />
      )}
      {ending && (
        <Question
          title={`Detach ‹${ending.name}›?`}
          onClose={() => setEnding(null)}
          answers={
            <>
              <Button
                look="main"
                onClick={async () => {
                  await call('endConvention', { params: { conventionId: ending.id } }).catch((error) =>
                    toast.error(String(error.message)),
                  )
                  setEnding(null)
                  void again()
                }}
              >
                Detach it
              </Button>
              <Button look="quiet" onClick={() => setEnding(null)}>
                Not now
              </Button>
            </>
          }
        >
          Names there stay as they are. New ones follow the convention of the folder above, if there is one.
        </Question>
      )}
    </div>
  )
}

export function Where({ share, folderId }: { share: Share; folderId: string | null }) {
  const place = usePlace(folderId ? { shareId: share.id, folderId, path: [] } : null, 1)
  return <>{[share.name, ...(folderId ? (place.data?.trail.map(({ name }) => name) ?? ['…']) : [])].join(' / ')}</>
}

export function Examples({ rules, naming }: { rules: Rules; naming: ShareNaming }) {
  const examples = useMemo(() => examplesOf(rules, naming.lists), [rules, naming.lists])
  return (
    <ul className="mt-3 border-t pt-2">
      {examples.map(({ name, place }) => (
        <li key={name} className="flex flex-wrap items-baseline gap-x-4 py-0.5">
          <NameText name={name} className="text-[13.5px]" />
          {place.length > 0 && <span className="text-[13px] text-soft">goes to {place.join(' / ')}</span>}
        </li>
      ))}
    </ul>
  )
}

function NewConvention({
  share,
  naming,
  onClose,
  onMade,
}: {
  share: Share
  naming: ShareNaming
  onClose: () => void
  onMade: (made: Convention) => void
}) {
  const [at, setAt] = useState<ChosenPlace | null>({ shareId: share.id, folderId: null, path: [] })
  const [name, setName] = useState('')
  const [fault, setFault] = useState('')
  const taken = naming.conventions.find(({ folderId }) => folderId === at?.folderId)
  const inside = useQuery(queries.shares)
  const make = async () => {
    try {
      onMade(
        await call('newConvention', {
          body: { shareId: share.id, folderId: at?.folderId ?? null, name, rules: fresh },
        }),
      )
    } catch (error) {
      setFault(error instanceof Refused ? error.problem.title : 'It could not be made.')
    }
  }
  return (
    <Question
      title="A new convention"
      onClose={onClose}
      answers={
        <>
          <Button
            look="main"
            disabled={!name.trim() || !!taken || at?.shareId !== share.id || inside.isPending}
            onClick={make}
          >
            Begin it here
          </Button>
          <Button look="quiet" onClick={onClose}>
            Not now
          </Button>
        </>
      }
    >
      <Field
        label="What it is called"
        value={name}
        fault={fault}
        autoFocus
        onChange={(event) => setName(event.target.value)}
      />
      <p className="pb-1 pt-3">Where it holds, with everything below:</p>
      <PlaceBrowser
        at={at}
        onChoose={(place) =>
          setAt(place?.shareId === share.id ? place : { shareId: share.id, folderId: null, path: [] })
        }
        className="h-64 overflow-hidden rounded-md border bg-sheet text-ink"
      />
      {taken && (
        <p className="pt-2 text-rust">‹{taken.name}› holds here already. Change that one, or choose a folder.</p>
      )}
    </Question>
  )
}
