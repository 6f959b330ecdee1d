import { useQueryClient } from '@tanstack/react-query'
import { FolderSync, Route } from 'lucide-react'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import type { Entry, Problem } from '../../../core/contract'
import { fileType } from '../../../core/formats/types'
import { saidBy } from '../../../core/words/said'
import { keys } from '../../api/keys'
import { Button } from '../../design/controls'
import { KindGlyph, NameText } from '../../design/kind'
import { canChooseFolder, chooseFolder } from '../../own/folder'
import { keepLastPlace } from '../../places/place'
import { PlaceBrowser } from '../../places/place-browser'
import { t, told } from '../../words/all'
import { moment } from '../../words/formats'
import type { WrittenType } from '../../work/content'
import { PartField } from './part-field'
import { type SlipBeginning, type SlipTarget, useSlip } from './use-slip'
import { WhatFor } from './what-for'

export interface SlipAct {
  title: string
  /** What will exist afterwards, and which file is worked in then. */
  afterwards: (name: string, as?: WrittenType) => React.ReactNode
  /** The word on the button. */
  verb: string
  onFile: (target: SlipTarget) => Promise<Problem | null>
  /** Adds to a file that is there already as its next version; absent where that makes no sense. */
  onNextVersion?: ((file: Entry) => Promise<Problem | null>) | undefined
  /** Goes on in a file that is there already, with this work and what is there combined. */
  onCombine?: (file: Entry) => Promise<Problem | null>
}

/**
 * The filing slip: a name, a place and a type are settled here, beside the work.
 * `onFile` answers with a refusal, or null when the file is on its way.
 */
export function FilingSlip({
  act,
  beginning,
  focusPart,
  onClose,
  onOwnFolder,
}: {
  act: SlipAct
  beginning: SlipBeginning
  /** The part to begin at; the whole name otherwise. */
  focusPart?: string | null
  onClose: () => void
  /** A folder of this computer is chosen for a copy, or none; absent where that makes no sense. */
  onOwnFolder?: ((folder: FileSystemDirectoryHandle | null) => void) | undefined
}) {
  const client = useQueryClient()
  const [as, setAs] = useState<WrittenType>({ type: beginning.as?.begin ?? beginning.type })
  const slip = useSlip(beginning, as)
  const [refusal, setRefusal] = useState<Problem | null>(null)
  const [busy, setBusy] = useState(false)
  const form = useRef<HTMLFormElement>(null)
  const input = useRef<HTMLTextAreaElement>(null)
  const begun = useRef(false)
  useEffect(() => {
    if (begun.current || (focusPart && !slip.ready)) return
    begun.current = true
    const part = focusPart && form.current?.querySelector<HTMLInputElement>(`[data-part="${focusPart}"]`)
    // Selecting gives the focus as well.
    if (part) part.select()
    else input.current?.select()
  }, [slip.ready, focusPart])
  // A proposal that arrives before anything was typed stays selected, so that typing replaces it: selected
  // together with its drawing, because a key that comes between the two would be written behind it.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a name that was proposed anew is selected whole until somebody writes
  useLayoutEffect(() => {
    if (document.activeElement === input.current && !edited.current) input.current?.select()
  }, [slip.stem])
  const edited = useRef(false)

  const blocked = slip.advice.find(({ refused }) => refused)
  async function run(job: () => Promise<Problem | null>) {
    if (busy) return
    setBusy(true)
    setRefusal(null)
    const answer = await job().catch((error: Error) => ({
      type: 'unexpected' as const,
      title: told(saidBy(error)),
      status: 0,
    }))
    setBusy(false)
    setRefusal(answer)
    if (answer) void client.invalidateQueries({ queryKey: keys.names() })
  }
  const file = (name?: string) => {
    const target = slip.target(name)
    if (name === undefined && slip.isTaken && !blocked) {
      // The answers to a name that is taken come next; the keyboard goes to them.
      return form.current?.querySelector<HTMLElement>('[data-answer]')?.focus()
    }
    if (!target || (name === undefined && blocked)) return input.current?.focus()
    keepLastPlace({ shareId: target.shareId, folderId: slip.listing.data?.trail.at(-1)?.id ?? target.folderId })
    return run(() => act.onFile(target))
  }
  const words = slip.advice.filter(({ about }) => about !== 'same')
  const withoutEnding = (whole: string) =>
    slip.ending && whole.endsWith(slip.ending) ? whole.slice(0, -slip.ending.length) : whole

  return (
    <form
      ref={form}
      aria-label={t('slip.filing-slip')}
      className="absolute inset-0 z-30 flex flex-col overflow-auto bg-paper md:static md:flex-row md:overflow-visible md:z-auto md:w-[628px] md:max-w-[62vw] md:shrink-0 md:border-r"
      onSubmit={(event) => {
        event.preventDefault()
        void file()
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose()
      }}
    >
      <div className="flex w-full shrink-0 flex-col md:min-h-0 md:w-[372px] md:min-w-[280px] md:shrink">
        <div className="px-4 pb-2 pt-3 md:min-h-0 md:flex-1 md:overflow-auto">
          <h2 className="text-[17px] font-semibold">{act.title}</h2>
          <p className="pb-3 text-[13px] leading-[18px] text-soft">
            {act.afterwards(slip.name, as.type === beginning.type ? undefined : as)}
          </p>
          <label htmlFor="slip-name" className="mb-1 flex items-baseline text-[13px] text-soft">
            {t('common.name')}
            {slip.convention && (
              <span className="ml-auto truncate pl-3">{t('slip.by', { conventionName: slip.convention.name })}</span>
            )}
          </label>
          <div className="flex items-center rounded-md border border-rule-strong bg-sheet focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-accent">
            {/* A long name is seen whole: the field grows with it. */}
            <textarea
              id="slip-name"
              rows={1}
              aria-label={t('common.name')}
              data-focus-first
              ref={input}
              className="min-h-9 min-w-0 flex-1 resize-none bg-transparent px-2.5 py-2 font-mono text-[13px] leading-[18px] outline-none field-sizing-content [overflow-wrap:anywhere]"
              value={slip.shownStem}
              aria-invalid={blocked || slip.isTaken ? true : undefined}
              aria-describedby="slip-says"
              onChange={(event) => {
                edited.current = true
                slip.setName(event.target.value.replace(/\s*\n\s*/g, ' '))
                setRefusal(null)
              }}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' || event.nativeEvent.isComposing) return
                event.preventDefault()
                form.current?.requestSubmit()
              }}
              spellCheck={false}
              autoComplete="off"
              dir="auto"
            />
            <span className="pr-2.5 font-mono text-[13px] text-soft" title={told(fileType(as.type).label)}>
              {slip.ending}
            </span>
          </div>
          {beginning.as && (
            <WhatFor
              of={beginning.as}
              own={beginning.as.own}
              goesOn={beginning.keep}
              only={slip.share?.only}
              share={slip.share?.name ?? ''}
              as={as}
              onChange={setAs}
            />
          )}
          {slip.ready && (
            <div className="mt-3 flex flex-col gap-2 border-l-2 border-rule pl-3">
              {slip.ready.parts.map(
                (ready) =>
                  ready.part.kind !== 'text' && (
                    <PartField
                      key={ready.part.id}
                      ready={ready}
                      value={slip.values[ready.part.id] ?? slip.reading?.parts[ready.index]?.text ?? ''}
                      suggestions={slip.suggestions.get(ready.part.id) ?? []}
                      reading={slip.reading?.follows ? undefined : slip.reading?.parts[ready.index]}
                      onChange={(value) => {
                        edited.current = true
                        slip.setPart(ready.part.id, value)
                      }}
                    />
                  ),
              )}
            </div>
          )}
          <ul id="slip-says" className="flex flex-col gap-1.5 pt-3 text-[13px] leading-[18px]" aria-live="polite">
            {slip.reading && !slip.reading.follows && slip.stem !== '' && (
              <li>
                {t('slip.this-name-does-not-follow', { conventionName: slip.convention?.name })}{' '}
                {slip.reading.stem && (
                  <button
                    type="button"
                    className="text-left underline"
                    onClick={() => slip.setName(slip.reading!.stem!)}
                  >
                    {t('slip.use', { stem: slip.reading.stem })}
                  </button>
                )}
              </li>
            )}
            {slip.neededByPlace.length > 0 ? (
              <li>
                {t('slip.choose-a-then-jaula-can-suggest-the', {
                  neededByPlace: slip.neededByPlace.map(({ part }) => part.label).join(t('slip.and-a')),
                })}
              </li>
            ) : (
              slip.missing.length > 0 && (
                <li>
                  {t('slip.still-missing', {
                    missing: slip.missing.map(({ part }) => part.label).join(t('common.and')),
                  })}
                </li>
              )
            )}
            {slip.dropped && (
              <li>
                {t('slip.it-is-saved-as-the-ending-is', {
                  label: fileType(as.type).label,
                  ending: slip.ending,
                  dropped: slip.dropped,
                })}
              </li>
            )}
            {words.map((advised) => {
              const better = slip.correction(advised)
              return (
                <li
                  key={told(advised.reason)}
                  className={advised.refused ? 'text-rust' : undefined}
                  role={advised.refused ? 'alert' : undefined}
                >
                  {told(advised.reason)}{' '}
                  {better && (
                    <button
                      type="button"
                      className="text-left underline"
                      onClick={() => slip.setName(withoutEnding(better))}
                    >
                      {t('common.use', { better })}
                    </button>
                  )}
                </li>
              )
            })}
          </ul>
        </div>
        <div className="border-t px-4 py-3">
          <p className="flex gap-2 text-[13px] leading-[18px] text-soft" data-testid="full-path">
            <KindGlyph type={as.type} size={16} />
            <span className="min-w-0 break-words">
              {slip.path.length ? (
                <>
                  <bdi>{slip.path.join(' / ')}</bdi> / <NameText name={slip.name} className="text-ink" />
                </>
              ) : (
                t('common.choose-a-place')
              )}
            </span>
          </p>
          {slip.ruleElsewhere && (
            <button
              type="button"
              className="mt-1 flex items-center gap-1.5 text-left text-[13px] underline"
              onClick={slip.useRule}
            >
              <Route size={14} aria-hidden />{' '}
              {t('slip.the-filing-rule-suggests', { ruleElsewhere: slip.ruleElsewhere.join(' / ') })}
            </button>
          )}
          {onOwnFolder && canChooseFolder() && <OwnFolder onFolder={onOwnFolder} />}
          {refusal && (
            <p role="alert" className="mt-1 text-[14px] text-rust">
              {told(refusal)}{' '}
              {refusal.freeName && (
                <button
                  type="button"
                  className="underline"
                  onClick={() => {
                    slip.setName(withoutEnding(refusal.freeName!))
                    setRefusal(null)
                  }}
                >
                  {t('common.use-2', { freeName: refusal.freeName })}
                </button>
              )}
            </p>
          )}
          {slip.isTaken ? (
            <SameName
              there={slip.there}
              free={slip.free}
              busy={busy}
              sameType={slip.there?.type === beginning.type && as.type === beginning.type}
              onNext={act.onNextVersion && ((there) => run(() => act.onNextVersion!(there)))}
              onCombine={act.onCombine && ((there) => run(() => act.onCombine!(there)))}
              onFree={() => void file(slip.free)}
              onClose={onClose}
            />
          ) : (
            <div className="mt-3 flex gap-2">
              <Button look="main" type="submit" disabled={busy || !slip.place}>
                {busy ? t('common.saving') : act.verb}
              </Button>
              <Button look="quiet" onClick={onClose}>
                {t('common.cancel')}
              </Button>
            </div>
          )}
        </div>
      </div>
      <PlaceBrowser
        className="min-h-72 min-w-0 flex-1 border-t bg-sheet md:min-h-0 md:border-l md:border-t-0"
        at={slip.place}
        onChoose={slip.choose}
        onPoint={(pointed) => {
          edited.current = true
          slip.point(pointed)
        }}
        marked={slip.there?.id}
      />
    </form>
  )
}

/** A copy of the file in a folder of this computer, beside its place here. */
function OwnFolder({ onFolder }: { onFolder: (folder: FileSystemDirectoryHandle | null) => void }) {
  const [name, setName] = useState<string | null>(null)
  const choose = async () => {
    const folder = await chooseFolder().catch(() => null)
    if (!folder) return
    onFolder(folder)
    setName(folder.name)
  }
  if (name === null)
    return (
      <button
        type="button"
        className="mt-1 flex items-center gap-1.5 text-left text-[13px] underline"
        onClick={() => void choose()}
      >
        <FolderSync size={14} aria-hidden /> {t('slip.also-in-own')}
      </button>
    )
  return (
    <p className="mt-1 flex flex-wrap items-center gap-x-1.5 text-[13px]" role="status">
      <FolderSync size={14} aria-hidden /> {t('slip.own-goes-to', { folder: name })}{' '}
      <button
        type="button"
        className="underline"
        onClick={() => {
          onFolder(null)
          setName(null)
        }}
      >
        {t('slip.not-there')}
      </button>
    </p>
  )
}

function SameName({
  there,
  free,
  busy,
  sameType,
  onNext,
  onCombine,
  onFree,
  onClose,
}: {
  there: Entry | null
  free: string
  busy: boolean
  sameType: boolean
  onNext: ((there: Entry) => void) | undefined
  onCombine: ((there: Entry) => void) | undefined
  onFree: () => void
  onClose: () => void
}) {
  const head = there?.head
  return (
    <div className="mt-2" role="alert">
      <p className="text-[14px] text-rust">
        {t('slip.a-file-with-this-name-is-here', {
          kind: Boolean(there?.kind === 'folder'),
          head: Boolean(head),
          number: head?.number,
          at: head && moment(head.at),
          authorName: head?.author.name,
        })}
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {there && head && sameType && onNext && (
          <Button disabled={busy} onClick={() => onNext(there)}>
            {t('slip.save-as-its-version', { it: head.number + 1 })}
          </Button>
        )}
        {there && head && sameType && onCombine && (
          <Button disabled={busy} onClick={() => onCombine(there)}>
            {t('slip.combine-with-what-is-there')}
          </Button>
        )}
        <Button
          look="main"
          data-answer
          disabled={busy}
          onClick={onFree}
          className="h-auto! max-w-full whitespace-normal! py-1.5 text-left"
        >
          <span className="min-w-0 break-words">{t('slip.save-as', { free })}</span>
        </Button>
        <Button look="quiet" onClick={onClose}>
          {t('common.cancel')}
        </Button>
      </div>
      {head && sameType && onNext && (
        <p className="pt-1.5 text-[13px] text-soft">
          {t('slip.nothing-is-overwritten-version-stays-in-that', { number: head.number })}
        </p>
      )}
    </div>
  )
}
