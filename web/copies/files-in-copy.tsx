// What a copy holds of a share's files, and how each stands here: chosen ones are brought out of it.
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { BroughtFiles, InCopy } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button, Field } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { invalidatePlaces } from '../files/acts'
import { t, told } from '../words/all'
import { moment, size } from '../words/formats'

const stands: Record<InCopy['here'], () => string> = {
  gone: () => t('sites.file-gone'),
  removed: () => t('sites.file-removed'),
  other: () => t('sites.file-other'),
  elsewhere: () => t('sites.file-elsewhere'),
  same: () => t('sites.file-same'),
}
const isMeant = ({ folders, name }: InCopy, words: string) => {
  const place = [...folders, name].join(' / ').toLocaleLowerCase()
  return words
    .toLocaleLowerCase()
    .split(/\s+/)
    .every((word) => place.includes(word))
}
const comes = ({ here }: InCopy) => here !== 'same' && here !== 'elsewhere'

export function FilesInCopy() {
  const { siteId = '', shareId = '' } = useParams()
  const client = useQueryClient()
  const [words, setWords] = useState('')
  /** What the server is asked for: where all of it is here, nothing is asked again. */
  const [asked, setAsked] = useState('')
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set())
  const [not, setNot] = useState<BroughtFiles['not']>([])
  const [busy, setBusy] = useState(false)
  const shares = useQuery(queries.shares)
  const copies = useQuery({ queryKey: keys.copies(), queryFn: () => call('copies', {}) })
  const found = useQuery({
    queryKey: keys.copies(siteId, shareId, asked),
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => call('filesInCopy', { params: { siteId, shareId }, query: { words: asked } }),
  })
  const whole = asked === '' && found.data !== undefined && found.data.inAll === found.data.files.length
  useEffect(() => {
    if (whole || words === asked) return
    // A copy may be far away: nobody reads it through for each letter.
    const timer = setTimeout(() => setAsked(words), 400)
    return () => clearTimeout(timer)
  }, [whole, words, asked])
  const share = shares.data?.find(({ id }) => id === shareId)
  const site = copies.data?.sites.find(({ id }) => id === siteId)
  if (found.isError)
    return (
      <Blank
        screen
        title={
          found.error instanceof Refused ? told(found.error.problem) : t('common.the-server-does-not-answer-right-now')
        }
      >
        <Button look="main" onClick={() => found.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (!found.data || !share || !copies.data) return <Blank screen title={t('common.one-moment')} waiting />
  const { at } = found.data
  const files = whole ? found.data.files.filter((one) => isMeant(one, words)) : found.data.files
  const inAll = whole ? files.length : found.data.inAll
  const bring = async () => {
    setBusy(true)
    setNot([])
    try {
      const body = { siteId, fileIds: [...ticked], key: uuidv7() }
      const done = await call('bringFiles', { params: { shareId }, body }, { timeout: 300_000 })
      if (done.brought) toast(t('sites.files-brought', { n: done.brought }))
      setNot(done.not)
      setTicked(new Set())
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('sites.could-not'))
    }
    setBusy(false)
    await invalidatePlaces(client)
    await client.invalidateQueries({ queryKey: keys.copies() })
  }
  return (
    <main className="relative flex h-full min-w-0 flex-col overflow-auto">
      <div className="mx-auto flex w-full max-w-[1080px] flex-1 flex-col px-4 py-4 md:px-8 md:py-6">
        <div className="flex items-center gap-3">
          <Link
            to="/copies"
            aria-label={t('sites.back')}
            className="grid size-9 shrink-0 place-items-center rounded-md hover:bg-wash"
          >
            <ArrowLeft size={18} />
          </Link>
          <h1 className="min-w-0 text-[20px] font-semibold leading-6 [overflow-wrap:anywhere]">
            {t('sites.files-of', { share: share.name, site: site?.name ?? '', at: moment(at) })}
          </h1>
        </div>
        <Field
          className="max-w-96 pt-3"
          label={t('sites.look-for')}
          type="search"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        {not.length > 0 && (
          <section role="alert" className="mt-4 rounded-lg border border-rust/50 bg-paper px-5 py-3">
            <h2 className="font-semibold">{t('sites.did-not-come')}</h2>
            <ul>
              {not.map(({ name, why }) => (
                <li key={name} className="pt-1">
                  <span className="font-mono text-[14px]">{name}</span>: {told(why)}
                </li>
              ))}
            </ul>
          </section>
        )}
        {files.length === 0 ? (
          <Blank title={words ? t('sites.no-such-file') : t('sites.no-file-in-it')} />
        ) : (
          <section aria-label={t('sites.files-in-it')} className="min-h-0 flex-1 pt-4">
            <ul className="border-t">
              {files.map((one) => (
                <FileRow
                  key={one.id}
                  one={one}
                  ticked={ticked.has(one.id)}
                  onTick={(on) => {
                    const next = new Set(ticked)
                    on ? next.add(one.id) : next.delete(one.id)
                    setTicked(next)
                  }}
                />
              ))}
            </ul>
            {inAll > files.length && (
              <p className="py-2 text-soft">{t('sites.more-files', { n: inAll - files.length })}</p>
            )}
          </section>
        )}
        <div className="sticky bottom-0 -mx-1 flex flex-wrap items-center gap-x-4 gap-y-2 border-t bg-desk px-1 py-3">
          <Button look="main" disabled={busy || !ticked.size} onClick={() => void bring()}>
            {t('sites.bring-files', { n: ticked.size })}
          </Button>
          <p className="min-w-60 flex-1 text-[14px] text-soft">{t('sites.bringing-keeps')}</p>
        </div>
      </div>
    </main>
  )
}

function FileRow({ one, ticked, onTick }: { one: InCopy; ticked: boolean; onTick: (on: boolean) => void }) {
  const { name, folders, type, number, at, author, here, size: bytes } = one
  return (
    <li className="grid grid-cols-[auto_20px_minmax(0,1fr)] items-start gap-x-3 border-b px-1 py-2">
      <input
        type="checkbox"
        aria-label={t('sites.choose-file', { name })}
        className="mt-1 size-4 accent-[var(--accent)] disabled:opacity-40"
        checked={ticked}
        disabled={!comes(one)}
        onChange={(event) => onTick(event.target.checked)}
      />
      <span className="pt-0.5">
        <KindGlyph type={type} />
      </span>
      <div className={`min-w-0 ${comes(one) ? '' : 'text-soft'}`}>
        <div className="flex min-h-6 flex-wrap items-baseline gap-x-4">
          <NameParts name={name} className="block truncate font-mono text-[14px]" />
          {folders.length > 0 && <span className="truncate text-[13.5px] text-soft">{folders.join(' / ')}</span>}
        </div>
        <p className="text-[13.5px] leading-[19px]">
          {stands[here]()}{' '}
          <span className="text-soft">
            {t('sites.version-in-it', { number, author, at: moment(at), size: size(bytes) })}
          </span>
        </p>
      </div>
    </li>
  )
}
