// What each use of the filing slip does, and what it says will exist afterwards.
import { uuidv7 } from 'uuidv7'
import type { Entry, Problem, Saved, Version } from '../../../core/contract'
import { call } from '../../app/call'
import { NameText } from '../../design/kind'
import type { SlipPurpose } from '../header'
import type { SlipAct } from './filing-slip'
import type { SlipTarget } from './use-slip'

/** An earlier moment that is saved as a copy. */
export interface CopiedMoment {
  /** "version 12" */
  said: string
  /** The version that it is a copy of. */
  originId: string | null
  bytes: () => Promise<Uint8Array>
}

const bold = (name: string) => <NameText name={name} className="text-ink" />

export function slipActsFor({
  name,
  head,
  moment,
  fileAway,
  fileOnto,
  fileInto,
  saveCopy,
  rename,
  onDone,
}: {
  name: string
  head: Version | null
  moment: CopiedMoment | null
  fileAway: (target: SlipTarget) => Promise<Problem | null>
  fileOnto: (there: Entry) => Promise<Problem | null>
  fileInto: (there: Entry) => Promise<Problem | null>
  saveCopy: (save: (bytes: Uint8Array) => Promise<Saved>, bytes?: () => Promise<Uint8Array>) => Promise<Problem | null>
  rename: (change: {
    name: string
    shareId: string
    folderId: string | null
    path?: string[]
  }) => Promise<Problem | null>
  onDone: () => void
}): Record<SlipPurpose, SlipAct> {
  const newFile = (
    { path, composition, ...place }: SlipTarget,
    bytes: Uint8Array,
    originId: string | null | undefined,
  ) =>
    call('newFile', {
      query: {
        key: uuidv7(),
        reason: 'copied',
        shareId: place.shareId,
        name: place.name,
        ...(place.folderId && { folderId: place.folderId }),
        ...(path.length && { path: path.join('/') }),
        ...(composition && { composition }),
        ...(originId && { originId }),
      },
      bytes,
    })
  const nextVersion = (there: Entry, bytes: Uint8Array) =>
    call('nextVersion', {
      params: { fileId: there.id },
      query: { key: uuidv7(), reason: 'copied', baseId: there.head!.id },
      bytes,
    })
  return {
    first: {
      title: 'Name and place',
      afterwards: (called) => <>Afterwards this work is the file {bold(called)}, and you go on in it.</>,
      verb: 'Save here',
      onFile: fileAway,
      onNextVersion: fileOnto,
      onCombine: fileInto,
    },
    separate: {
      title: 'Save as a separate file',
      afterwards: (called) => (
        <>
          Afterwards there are two files: {bold(name)} as version {head?.number} has it, and {bold(called)} with your
          work. You go on in {bold(called)}.
        </>
      ),
      verb: 'Save here',
      onFile: fileAway,
      onNextVersion: fileOnto,
      onCombine: fileInto,
    },
    copy: {
      title: 'Save a copy',
      afterwards: (called) => (
        <>
          Afterwards there are two files: {bold(called)} with the work as it is now, and {bold(name)}. You go on in{' '}
          {bold(name)}. The copy knows what it was copied from.
        </>
      ),
      verb: 'Save the copy',
      onFile: (target) => saveCopy((bytes) => newFile(target, bytes, head?.id)),
      onNextVersion: (there) => saveCopy((bytes) => nextVersion(there, bytes)),
    },
    'copy of a moment': {
      title: `Save ${moment?.said ?? 'it'} as a copy`,
      afterwards: (called) => (
        <>
          Afterwards there are two files: {bold(called)} with {moment?.said}, and {bold(name)} as it is. You go on in{' '}
          {bold(name)}.
        </>
      ),
      verb: 'Save the copy',
      onFile: (target) => saveCopy((bytes) => newFile(target, bytes, moment?.originId), moment?.bytes),
      onNextVersion: (there) => saveCopy((bytes) => nextVersion(there, bytes), moment?.bytes),
    },
    rename: {
      title: 'Rename or move',
      afterwards: (called) => (
        <>
          Afterwards it is the same file, named {bold(called)}. Its versions stay with it, and search still finds its
          old name.
        </>
      ),
      verb: 'Rename or move',
      onFile: async ({ shareId, folderId, path, name: called }) => {
        const refusal = await rename({ name: called, shareId, folderId, ...(path.length && { path: [...path] }) })
        if (!refusal) onDone()
        return refusal
      },
    },
  }
}
