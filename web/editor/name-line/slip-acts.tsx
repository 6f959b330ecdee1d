// What each use of the filing slip does, and what it says will exist afterwards.
import type { Entry, Problem, Version } from '../../../core/contract'
import type { SavePlace } from '../../../core/recovery/protocol'
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
  saveCopy: (
    target: SavePlace | { fileId: string; name: string; baseId: string },
    bytes?: () => Promise<Uint8Array>,
  ) => Promise<Problem | null>
  rename: (change: {
    name: string
    shareId: string
    folderId: string | null
    path?: string[]
  }) => Promise<Problem | null>
  onDone: () => void
}): Record<SlipPurpose, SlipAct> {
  const newFile = ({ path, ...place }: SlipTarget, originId: string | null | undefined): SavePlace => ({
    ...place,
    ...(path.length && { path: [...path] }),
    ...(originId && { originId }),
  })
  const nextVersion = (there: Entry) => ({ fileId: there.id, name: there.name, baseId: there.head!.id })
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
      onFile: (target) => saveCopy(newFile(target, head?.id)),
      onNextVersion: (there) => saveCopy(nextVersion(there)),
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
      onFile: (target) => saveCopy(newFile(target, moment?.originId), moment?.bytes),
      onNextVersion: (there) => saveCopy(nextVersion(there), moment?.bytes),
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
