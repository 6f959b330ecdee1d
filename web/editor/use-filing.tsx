// Saving, in every way that there is: under its own name, under another one, onto or into another file, as a copy; and
// the slip, where a name and a place are settled.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { type RefObject, useEffect, useRef, useState } from 'react'
import { flushSync } from 'react-dom'
import { useSearchParams } from 'react-router'
import { toast } from 'sonner'
import type { Entry, Problem, Version } from '../../core/contract'
import { type Limit, sayLeftOut, WouldLose } from '../../core/formats/refusals'
import { defaultType, isCsv, typeOfName, typeOfWork, typeWritten, writableBeside } from '../../core/formats/types'
import { splitExtension } from '../../core/naming/check'
import { saidBy } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { act } from '../files/acts'
import type { CopyOf } from '../own/choose'
import { t, told } from '../words/all'
import type { WrittenType } from '../work/content'
import { wholeFacts } from '../work/file-facts'
import type { useMerging } from '../work/merging'
import type { Opening } from '../work/opening'
import { type DraftSession, isProblem } from '../work/session'
import type { SessionOutline } from '../work/session-state'
import type { SlipPurpose } from './header'
import { FilingSlip } from './name-line/filing-slip'
import { type CopiedMoment, slipActsFor } from './name-line/slip-acts'
import type { SlipBeginning, SlipTarget } from './name-line/use-slip'
import type { OpenFile } from './use-file'

export interface FilingParts {
  session: DraftSession
  state: SessionOutline
  file: OpenFile
  opening: Opening
  merging: ReturnType<typeof useMerging>
  editable: boolean
  /** An earlier moment is on show. */
  looking: boolean
  /** The slip is to be open from the beginning. */
  slipAtOnce: boolean
  /** Set while the work is left on purpose. */
  leaving: RefObject<boolean>
  /** Asks whether something may be lost by saving. */
  onLimits: (then: () => void) => void
  /** The file was saved as another type than the work was opened as: it is opened anew. */
  onRetyped: (fileId: string) => void
}

const whyNot = (error: unknown): string =>
  error instanceof Refused ? told(error.problem) : t('common.the-server-does-not-answer-right-now')

export function useFiling(parts: FilingParts) {
  const { session, state, file, opening, merging, editable, looking, leaving, onLimits, onRetyped } = parts
  const { name, fileId, facts, history } = file
  const client = useQueryClient()
  const { person, settings } = useSession()
  const shares = useQuery({ ...queries.shares, enabled: person.guestOf === undefined })
  const [query] = useSearchParams()
  const [open, setOpen] = useState<{ purpose: SlipPurpose; part?: string; beginning: SlipBeginning } | null>(null)
  const [limits, setLimits] = useState<Limit[]>([])
  /** The name that was asked for, whose number another one may have been given. */
  const asked = useRef('')
  /** A folder of this computer that a copy of the file goes to as well. */
  const ownFolder = useRef<FileSystemDirectoryHandle | null>(null)
  /** A moment that is saved as a copy, while its slip is open. */
  const copied = useRef<CopiedMoment | null>(null)

  /** The work on pages, as its writer chose them last. */
  const pdfOf = async () => (await import('../paper/as-pdf')).asPdf(session, name)

  /** What the work can be written as, beside what it is. */
  const otherTypes = (
    place: SlipBeginning['place'],
    is: string,
    own: string,
    { goesOn, apart }: { goesOn: boolean; apart: boolean },
  ): NonNullable<SlipBeginning['as']> => {
    // A page of a spreadsheet's tables is for looking at: work goes on in the spreadsheet.
    const pages = apart && !goesOn && state.kind === 'spreadsheet' ? ['html'] : []
    const types = [own, ...writableBeside(own, state.kind), ...pages, ...(apart && !goesOn ? ['pdf'] : [])]
    // New work begins as what its writer, or its share, has it begin as.
    const ofShare = place
      ? shares.data?.find(({ id }) => id === place.shareId)?.defaults[state.kind]
      : shares.data?.map(({ defaults }) => defaults[state.kind]).find(Boolean)
    const wanted = (settings.defaults[state.kind] ?? ofShare)?.type
    return {
      own: is,
      types,
      beside: goesOn && state.kind === 'spreadsheet' && !isCsv(own),
      pdf: goesOn,
      values: apart && state.kind === 'spreadsheet',
      begin: !state.file && wanted && types.includes(wanted) ? wanted : own,
      show: (at) => session.show(at),
      sheets: session.clues().sheets,
      lossOf: async (as) => (as.type === 'pdf' ? (await pdfOf()).lost : session.lossOf(as)),
      textWay: () => session.textWay(),
      edits: { now: () => session.state.reach.edit.seq, subscribe: session.subscribe },
    }
  }
  const openSlip = (purpose: SlipPurpose, part?: string) => {
    session.settle()
    ownFolder.current = null
    const place = query.get('share')
      ? { shareId: query.get('share')!, folderId: query.get('folder'), path: [] }
      : facts.data
        ? { shareId: facts.data.file.shareId, folderId: facts.data.file.folderId, path: [] }
        : (opening.place ?? null)
    const is = state.file ? typeOfWork(name, state.kind) : defaultType[state.kind]
    // A file of its own is of a type that is written; the same file is what it is until it goes on as another one.
    const own = purpose === 'rename' ? is : typeWritten(is, state.kind)
    const asked = purpose === 'rename' ? editable && state.ready && !looking : /^(?:first|separate|copy)$/.test(purpose)
    setOpen({
      purpose,
      ...(part && { part }),
      beginning: {
        kind: state.kind,
        type: state.file && own === is ? splitExtension(name)[1].slice(1).toLowerCase() : own,
        present: state.file ? splitExtension(name)[0] : null,
        keep: purpose === 'rename',
        apart: purpose !== 'rename' && purpose !== 'first',
        ...(asked && {
          as: otherTypes(place, is, own, {
            goesOn: purpose === 'first' || purpose === 'separate',
            apart: purpose === 'separate' || purpose === 'copy',
          }),
        }),
        clues: session.clues(),
        place,
        presets: opening.presets,
      },
    })
  }
  const closeSlip = () => setOpen(null)
  const atOnce = useRef(parts.slipAtOnce)
  // biome-ignore lint/correctness/useExhaustiveDependencies: opened at once when the work is ready, and once
  useEffect(() => {
    if (!atOnce.current || !state.ready) return
    atOnce.current = false
    openSlip('first')
  }, [state.ready])

  /** Saving was asked for while a save was on its way: what was written meanwhile is saved when that is done. */
  const again = useRef(false)
  const saveLatest = useRef(() => {})
  useEffect(
    () =>
      session.subscribe(() => {
        if (!again.current || session.state.reach.waitingSave) return
        again.current = false
        if (!session.state.refusal && session.unsaved) queueMicrotask(() => saveLatest.current())
      }),
    [session],
  )

  const keptOnDevice = () =>
    new Promise<null>((resolve) => {
      const stop = session.subscribe(() => {
        const { reach } = session.state
        if (reach.waitingSave?.kept && reach.server !== 'there') {
          stop()
          resolve(null)
        }
      })
    })
  const afterFirstSave = ({ id, shareId, name: called }: Entry) => {
    if (ownFolder.current) void alsoInOwn({ shareId, entryId: id, kind: 'file', name: called }, ownFolder.current)
    ownFolder.current = null
    if (asked.current && asked.current !== called) toast(t('editor.saved-as-the-number-before-it-was', { called }))
    asked.current = ''
    leaving.current = true
    // The address becomes the file's own, without a new start of the editor.
    window.history.replaceState(window.history.state, '', `/open/${id}`)
    leaving.current = false
    void client.invalidateQueries({ queryKey: keys.file(id) })
  }
  /** A list that was written guarded is read so. */
  const sayGuarded = async ({ id }: Entry, as: WrittenType | undefined) => {
    if (!as?.list?.guarded) return
    await call('setReading', { params: { fileId: id }, body: { guarded: true } }).catch(() => {})
  }
  /** Lists of all its sheets, beside the file that was just saved. */
  const alsoLists = async (saved: Entry, type: 'csv' | 'tsv') => {
    const { sheets } = session.clues()
    const { putBeside } = await import('./workbook/side-lists')
    await putBeside(saved, sheets, { sheets, type, guarded: false, inStep: true }).then(
      (made) => toast(t('list.lists-are-beside-it', { count: made.length, name: made[0]!.name })),
      (error) =>
        toast.error(
          t('slip.lists-could-not-be', {
            name: saved.name,
            why: whyNot(error),
          }),
          { duration: 30_000 },
        ),
    )
  }
  const alsoPdf = async (saved: Entry) => {
    const { putPdfBeside } = await import('../paper/as-pdf')
    await putPdfBeside(saved, true).then(
      ({ name: called }) => toast(t('paper.pdf-is-beside-it', { name: called })),
      (error) =>
        toast.error(t('slip.pdf-could-not-be', { name: saved.name, why: whyNot(error) }), { duration: 30_000 }),
    )
  }
  const alsoInOwn = async (of: CopyOf, folder: FileSystemDirectoryHandle) => {
    const kept = await import('../own/choose')
      .then(({ keepOwnCopy }) => keepOwnCopy(person.id, of, folder))
      .catch(() => null)
    if (kept?.done) toast(t('files.own-kept', { folder: kept.folder }))
    else toast.error(t('files.own-not-all', { folder: folder.name }))
  }
  /**
   * The slip closes when the server answered; when it is away, as soon as the device keeps the save.
   * @param as it was written as another type, or another way, with what that loses in sight
   */
  const saveThrough = async (saving: ReturnType<typeof session.save>, as?: WrittenType): Promise<Problem | null> => {
    const answer = await Promise.race([saving, keptOnDevice()])
    if (answer && isProblem(answer)) return answer
    // A file of its own does not hold all that the one it came of does: it is said, where nobody was asked before.
    const retyped = !!as && !as.beside
    const leftOut = retyped ? null : sayLeftOut(session.notAccepted(session.leftOut))
    if (leftOut) toast(told(leftOut), { duration: 30_000 })
    session.accept(session.leftOut)
    setLimits([])
    // Gone in the same moment in which it is said to be saved: the next letter is meant for the work.
    flushSync(closeSlip)
    const after = async (saved: Entry) => {
      afterFirstSave(saved)
      if (as?.beside === 'pdf') void alsoPdf(saved)
      else if (as?.beside) void alsoLists(saved, as.beside)
      await sayGuarded(saved, as)
      // Its editor is that of the type that it is now.
      if (retyped) onRetyped(saved.id)
    }
    if (answer) void after(answer.file)
    else void saving.then((later) => (isProblem(later) ? openSlip('first') : void after(later.file)))
    return null
  }
  const adopt = (there: Entry) =>
    session.adopt({ id: there.id, name: there.name, shareId: there.shareId, folderId: there.folderId }, there.head)
  const fileAway = ({ as, ...target }: SlipTarget) => {
    asked.current = target.name
    const other = as && !as.beside ? as : undefined
    return saveThrough(session.save({ ...target, ...(state.head && { originId: state.head.id }) }, 'saved', other), as)
  }
  /** Goes on in a file that is there already, with this work as its next version. */
  const fileOnto = (there: Entry) => {
    adopt(there)
    return saveThrough(session.save('own file'))
  }
  /** Goes on in a file that is there already, with this work combined with what is there. */
  const fileInto = async (there: Entry): Promise<Problem | null> => {
    if (!there.head) return null
    // What both came of, where one came of the other.
    const { versions: others } = await wholeFacts(there.id)
    const known = [state.head?.id, history?.origin?.versionId]
    const base = known.flatMap((id) => others.filter((version) => version.id === id))[0] ?? null
    const taken = await merging.takeInOver(base?.id ?? null, there.head, {
      adopt: false,
      baseType: base?.type,
      saying: (summary) => t('editor.combined-with', { thereName: there.name, summary }),
    })
    if (!taken) return null
    adopt(there)
    if (!taken.choices.length) return saveThrough(session.save('own file', 'merged'))
    // What both wrote in one place is chosen first; saving is the person's then.
    closeSlip()
    afterFirstSave(there)
    return null
  }
  const saveCopy = async (
    target: Parameters<DraftSession['copy']>[0],
    encode = () => session.encode(),
    as?: WrittenType,
  ): Promise<Problem | null> => {
    try {
      const { bytes, lost } = await encode()
      const answer = await session.copy(target, bytes)
      const leftOut = sayLeftOut(lost)
      if (answer === 'kept') {
        closeSlip()
        toast(t('editor.the-copy-waits-on-this-computer-and', { name }), {
          description: leftOut && told(leftOut),
        })
        return null
      }
      if (isProblem(answer)) return answer
      const { file: copy } = answer
      await sayGuarded(copy, as)
      closeSlip()
      toast(t('editor.the-copy-is-saved-as-you-go', { copyName: copy.name, name }), {
        duration: leftOut ? 30_000 : 10_000,
        description: leftOut && told(leftOut),
        action: { label: t('editor.open-the-copy'), onClick: () => window.open(`/open/${copy.id}`, '_blank') },
      })
      void client.invalidateQueries({ queryKey: keys.place(copy.shareId) })
      return null
    } catch (error) {
      if (error instanceof Refused) return error.problem
      throw error
    }
  }
  const saveNow = () => {
    session.settle()
    if (!session.unsaved) return void toast(t('editor.there-is-nothing-new-to-save'))
    if (session.state.reach.waitingSave) {
      again.current = true
      return
    }
    void merging
      .saveMerging()
      .then((answer) => !isProblem(answer) && reopened(answer.file, name))
      .catch(hindered)
  }
  /** A file that goes on as another type is opened anew, in the editor of that. */
  const reopened = (saved: Entry, before: string) => {
    if (typeOfName(saved.name) !== typeOfName(before)) onRetyped(saved.id)
  }
  saveLatest.current = saveNow
  /** Saving would lose something, which is asked about, or failed, which is said. */
  const hindered = (error: Error) => {
    if (!(error instanceof WouldLose))
      return void toast.error(t('editor.it-could-not-be-saved', { message: saidBy(error) }))
    setLimits([...error.limits])
    onLimits(saveNow)
  }
  const save = () => {
    if (!editable || looking) return
    session.settle()
    if (!state.file) return openSlip('first')
    saveNow()
  }
  const slipActs = slipActsFor({
    name,
    head: state.head,
    moment: copied.current,
    fileAway,
    fileOnto,
    fileInto,
    saveCopy,
    encodeAs: (as) => (as.type === 'pdf' ? pdfOf() : session.encode(as)),
    rename: async ({ as, ...changes }) => {
      if (!as) return act(client, 'rename', [{ id: fileId!, from: name, ...changes }])
      // It goes on as another type with its next version; before that it has its other name and place.
      const called = `${splitExtension(changes.name)[0]}${splitExtension(name)[1]}`
      const at = facts.data?.file
      const moved = called !== name || changes.shareId !== at?.shareId || changes.folderId !== at?.folderId
      const refusal =
        moved || changes.path?.length
          ? await act(client, 'rename', [{ id: fileId!, from: name, ...changes, name: called }])
          : null
      if (refusal) return refusal
      // What that loses is in sight here.
      session.accept(await session.lossOf(as))
      return saveThrough(session.save('own file', 'saved', as), as)
    },
    onDone: closeSlip,
  })
  return {
    save,
    openSlip,
    isOpen: open !== null,
    limits,
    hindered,
    accept: () => {
      session.accept(limits)
      setLimits([])
    },
    copyMoment: (moment: CopiedMoment) => {
      copied.current = moment
      openSlip('copy of a moment')
    },
    /** Saves although somebody else did, as what comes after theirs. */
    saveOnTop: (head: Version) => {
      session.adopt(state.file, head)
      void session.save('own file')
    },
    slip: open && (
      <FilingSlip
        key={open.purpose}
        act={slipActs[open.purpose]}
        beginning={open.beginning}
        focusPart={open.part ?? null}
        onClose={closeSlip}
        onOwnFolder={open.purpose === 'rename' ? undefined : (folder) => (ownFolder.current = folder)}
      />
    ),
  }
}
export type Filing = ReturnType<typeof useFiling>
