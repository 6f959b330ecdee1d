// What each use of the filing slip does, and what it says will exist afterwards.

import type { Entry, Problem, Version } from '../../../core/contract'
import type { Written } from '../../../core/formats/refusals'
import { fileType } from '../../../core/formats/types'
import type { SavePlace } from '../../../core/recovery/protocol'
import { NameText } from '../../design/kind'
import { T, t } from '../../words/all'
import type { WrittenType } from '../../work/content'
import type { SlipPurpose } from '../header'
import type { SlipAct } from './filing-slip'
import type { SlipTarget } from './use-slip'

/** An earlier moment that is saved as a copy. */
export interface CopiedMoment {
  /** "version 12" */
  said: string
  /** The version that it is a copy of. */
  originId: string | null
  encode: () => Promise<Written>
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
  encodeAs,
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
    encode?: () => Promise<Written>,
    as?: WrittenType,
  ) => Promise<Problem | null>
  encodeAs: (as: WrittenType) => Promise<Written>
  rename: (change: {
    name: string
    shareId: string
    folderId: string | null
    path?: string[]
    /** The type that the file goes on as. */
    as?: WrittenType
  }) => Promise<Problem | null>
  onDone: () => void
}): Record<SlipPurpose, SlipAct> {
  const newFile = ({ path, as: _as, ...place }: SlipTarget, originId: string | null | undefined): SavePlace => ({
    ...place,
    ...(path.length && { path: [...path] }),
    ...(originId && { originId }),
  })
  const nextVersion = (there: Entry) => ({ fileId: there.id, name: there.name, baseId: there.head!.id })
  return {
    first: {
      title: t('slip.name-and-place'),
      afterwards: (called) => <T k="slip.afterwards-this-work-is-the-file-and" v={{ bold: bold(called) }} />,
      verb: t('slip.save-here'),
      onFile: fileAway,
      onNextVersion: fileOnto,
      onCombine: fileInto,
    },
    separate: {
      title: t('common.save-as-a-separate-file'),
      afterwards: (called) => (
        <T
          k="slip.afterwards-there-are-two-files-as-version"
          v={{
            bold: bold(name),
            number: head?.number,
            bold2: bold(called),
          }}
        />
      ),
      verb: t('slip.save-here'),
      onFile: fileAway,
      onNextVersion: fileOnto,
      onCombine: fileInto,
    },
    copy: {
      title: t('common.save-a-copy'),
      afterwards: (called) => (
        <T k="slip.afterwards-there-are-two-files-with-the" v={{ bold: bold(called), bold2: bold(name) }} />
      ),
      verb: t('slip.save-the-copy'),
      onFile: (target) => saveCopy(newFile(target, head?.id), target.as && (() => encodeAs(target.as!)), target.as),
      onNextVersion: (there) => saveCopy(nextVersion(there)),
    },
    'copy of a moment': {
      title: t('slip.save-as-a-copy', { it: moment?.said ?? 'it' }),
      afterwards: (called) => (
        <T
          k="slip.afterwards-there-are-two-files-with-and"
          v={{
            bold: bold(called),
            said: moment?.said,
            bold2: bold(name),
          }}
        />
      ),
      verb: t('slip.save-the-copy'),
      onFile: (target) => saveCopy(newFile(target, moment?.originId), moment?.encode),
      onNextVersion: (there) => saveCopy(nextVersion(there), moment?.encode),
    },
    rename: {
      title: t('common.rename-or-move'),
      afterwards: (called, as) =>
        as ? (
          <T
            k="slip.afterwards-it-goes-on-as"
            v={{ bold: bold(called), number: (head?.number ?? 0) + 1, label: fileType(as.type).label }}
          />
        ) : (
          <T k="slip.afterwards-it-is-the-same-file-named" v={{ bold: bold(called) }} />
        ),
      verb: t('common.rename-or-move'),
      onFile: async ({ shareId, folderId, path, name: called, as }) => {
        const refusal = await rename({
          name: called,
          shareId,
          folderId,
          ...(path.length && { path: [...path] }),
          ...(as && { as }),
        })
        if (!refusal) onDone()
        return refusal
      },
    },
  }
}
