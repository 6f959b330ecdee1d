// Somebody who writes a document, without its page: the session's own collaborator in tests that need no screen. What is
// written are the steps that the editor makes, and what is saved is the docx that it writes.
import { EditorState, TextSelection } from 'prosemirror-state'
import { Step } from 'prosemirror-transform'
import { uuidv7 } from 'uuidv7'
import { afterEach, expect, inject } from 'vitest'
import { blankDocument, openingOf } from '../../core/content/document'
import { wordsOfDocument } from '../../core/content/words'
import type { Saved } from '../../core/contract'
import { readDocx } from '../../core/formats/docx/read'
import { writeDocx } from '../../core/formats/docx/write'
import type { Limit } from '../../core/formats/refusals'
import { call } from '../api/call'
import { heldDrafts } from '../work/device'
import { onJournal, tellJournal } from '../work/journal'
import { DraftSession } from '../work/session'
import type { Beginning } from '../work/session-state'

// As the application does it: a refusal that was on its way before somebody signed in stops nothing.
onJournal((message) => {
  if (message.say === 'server' && message.state === 'signed out') tellJournal({ do: 'try now' })
})

/** Signs in as one of the test office's people, and has the journal know it. */
export async function enterAs(handle: 'ida' | 'priya' | 'tomas' | 'ben'): Promise<string> {
  const { person } = await call('signIn', { body: { handle, password: 'a long password' } })
  tellJournal({ do: 'start', personId: person!.id, deviceName: 'the test’s browser', interval: 5 })
  tellJournal({ do: 'try now' })
  return person!.id
}

/** The bytes of a document of these paragraphs. */
export function docx(...paragraphs: string[]): Uint8Array {
  const schema = blankDocument().type.schema
  return writeDocx(
    schema.node(
      'doc',
      null,
      paragraphs.map((text) => schema.node('paragraph', null, text ? [schema.text(text)] : [])),
    ),
  )
}
export const textOf = (bytes: Uint8Array): string =>
  readDocx(bytes).doc.textBetween(0, readDocx(bytes).doc.content.size, '\n')

/** A file in the test office's share. */
export const newFile = (name: string, ...paragraphs: string[]): Promise<Saved> =>
  call('newFile', {
    query: { key: uuidv7(), reason: 'saved', shareId: inject('shareId'), name },
    bytes: docx(...paragraphs),
  })
export const nextVersion = (fileId: string, baseId: string, ...paragraphs: string[]): Promise<Saved> =>
  call('nextVersion', {
    params: { fileId },
    query: { key: uuidv7(), reason: 'saved', baseId },
    bytes: docx(...paragraphs),
  })
export const textOfVersion = async (versionId: string): Promise<string> =>
  textOf(await call('bytes', { params: { versionId } }))

export const uniqueName = (what: string): string => `${what} ${uuidv7().slice(-8)}.docx`

export class Writer {
  readonly session: DraftSession
  state: EditorState
  /** What the next save would lose of the file. */
  lost: Limit[] = []

  constructor(beginning: Beginning) {
    this.session = new DraftSession(beginning, false)
    const bytes = beginning.base?.bytes
    this.state = EditorState.create({ doc: bytes ? readDocx(bytes).doc : blankDocument() })
    for (const line of beginning.continued?.lines ?? []) this.take(JSON.parse(line).edit.steps)
    this.session.attach({
      encode: async () => ({ bytes: writeDocx(this.state.doc), lost: this.lost }),
      opening: () => openingOf(this.state.doc),
      clues: () => wordsOfDocument(this.state.doc),
      resting: () => [this.state.selection.anchor, this.state.selection.head],
    })
  }
  private take(steps: unknown[]): void {
    const change = this.state.tr
    for (const step of steps) change.step(Step.fromJSON(this.state.schema, step))
    this.state = this.state.apply(change)
  }
  /** Blank paper of a person's own. */
  static blank(personId: string, draftId: string = uuidv7()): Writer {
    return new Writer({
      draftId,
      kind: 'document',
      personId,
      bornAt: new Date().toISOString(),
      file: null,
      head: null,
      base: null,
      continued: null,
    })
  }
  get text(): string {
    return this.state.doc.textBetween(0, this.state.doc.content.size, '\n')
  }
  /** Writes at the end, letter by letter. */
  type(text: string): this {
    for (const letter of text) {
      const end = TextSelection.atEnd(this.state.doc)
      const change = this.state.tr.setSelection(end).insertText(letter)
      this.state = this.state.apply(change)
      this.session.record({ steps: change.steps.map((step) => step.toJSON()) })
    }
    return this
  }
  select(anchor: number, head = anchor): void {
    this.state = this.state.apply(this.state.tr.setSelection(TextSelection.create(this.state.doc, anchor, head)))
    this.session.moved()
  }
  /** Until the device keeps everything that was written. */
  async kept(): Promise<void> {
    await expect.poll(() => this.session.state.reach.journal.seq).toBe(this.session.state.reach.edit.seq)
  }
  /** Until a recovery point holds everything that was written. */
  async protected(): Promise<void> {
    await expect.poll(() => this.session.state.reach.point.seq).toBe(this.session.state.reach.edit.seq)
  }
}

/** The writers of one test file; what a test leaves open is ended after it. @param personId who writes, once that is known */
export function writersOf(personId: () => string) {
  const writers: Writer[] = []
  afterEach(async () => {
    for (const { session } of writers.splice(0)) await session.close('finished')
  })
  const of = (writer: Writer): Writer => {
    writers.push(writer)
    return writer
  }
  return {
    begin: () => of(Writer.blank(personId())),
    goOn: (beginning: Omit<Beginning, 'personId'>) => of(new Writer({ ...beginning, personId: personId() })),
    /** The writer's page is gone, and its journal done with it: what it wrote stays as it is. */
    async leave(writer: Writer): Promise<string> {
      const { draftId } = writer.session.state
      await writer.session.leave()
      writers.splice(writers.indexOf(writer), 1)
      // A page that is in a hurry does not wait for its journal longer than three seconds.
      await expect.poll(async () => (await heldDrafts()).has(draftId)).toBe(false)
      return draftId
    },
  }
}
