import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Convention, Rules, Share, ShareNaming } from '../../core/contract'
import { saidBy } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import type { ChosenPlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
import { T, t, told } from '../words/all'
import { moment } from '../words/formats'
import { ConventionEditor } from './convention-editor'
import { Examples, Where } from './shown-rules'

const fresh: Rules = {
  parts: [
    {
      id: 'date',
      label: t('common.date'),
      separator: '',
      optional: false,
      kind: 'date',
      form: 'YYYY-MM-DD',
      source: 'content',
    },
    {
      id: 'subject',
      label: t('names.subject'),
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
        <Blank title={t('names.has-no-convention-yet', { shareName: share.name })}>
          <p>{t('names.a-convention-says-of-which-parts-a')}</p>
          {mayChange && (
            <Button look="main" className="mt-4" onClick={() => setStarting(true)}>
              {t('names.make-one')}
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
                      <T
                        k="names.applies-in-and-below-version-since-by"
                        v={{
                          where: <Where share={share} folderId={convention.folderId} />,
                          number: convention.number,
                          since: moment(convention.since),
                          author: convention.author,
                        }}
                      />
                    </p>
                  </div>
                  {mayChange && (
                    <Button look="quiet" onClick={() => setEnding(convention)}>
                      {t('names.stop-using-it')}
                    </Button>
                  )}
                  <Button onClick={() => setEditing(convention.id)}>
                    {mayChange ? t('common.change') : t('names.look-at-it')}
                  </Button>
                </div>
                <Examples rules={convention.rules} naming={naming} />
              </li>
            ))}
          </ul>
          {mayChange && (
            <Button className="mt-4" onClick={() => setStarting(true)}>
              <Plus size={16} aria-hidden />
              {t('names.another-convention')}
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
          title={t('names.stop-using', { endingName: ending.name })}
          onClose={() => setEnding(null)}
          answers={
            <>
              <Button
                look="main"
                onClick={async () => {
                  await call('endConvention', { params: { conventionId: ending.id } }).catch((error) =>
                    toast.error(told(saidBy(error))),
                  )
                  setEnding(null)
                  void again()
                }}
              >
                {t('names.stop-using-it')}
              </Button>
              <Button look="quiet" onClick={() => setEnding(null)}>
                {t('common.cancel')}
              </Button>
            </>
          }
        >
          {t('names.names-there-stay-as-they-are-new')}
        </Question>
      )}
    </div>
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
      setFault(error instanceof Refused ? told(error.problem) : t('common.it-could-not-be-made'))
    }
  }
  return (
    <Question
      title={t('names.a-new-convention')}
      onClose={onClose}
      answers={
        <>
          <Button
            look="main"
            disabled={!name.trim() || !!taken || at?.shareId !== share.id || inside.isPending}
            onClick={make}
          >
            {t('names.make-it-here')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <Field
        label={t('names.what-it-is-called')}
        value={name}
        fault={fault}
        autoFocus
        onChange={(event) => setName(event.target.value)}
      />
      <p className="pb-1 pt-3">{t('names.where-it-applies-with-everything-below')}</p>
      <PlaceBrowser
        at={at}
        onChoose={(place) =>
          setAt(place?.shareId === share.id ? place : { shareId: share.id, folderId: null, path: [] })
        }
        className="h-64 overflow-hidden rounded-md border bg-sheet text-ink"
      />
      {taken && (
        <p className="pt-2 text-rust">
          {t('names.applies-here-already-change-that-one-or', { takenName: taken.name })}
        </p>
      )}
    </Question>
  )
}
