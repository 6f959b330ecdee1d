// What the files of a drive are called here, and where they go: by the convention of the place they go to, otherwise as
// they are called, put right where computers would refuse it.
import type { Auditor } from '../naming/audit'
import { checkName, correctName, freeName, nameKey, splitExtension } from '../naming/check'
import type { FileKind } from '../naming/convention'
import { type Sentence, say } from '../words/said'
import type { Series } from './series'

/** sure: by the convention, or there is none. doubtful: read with a guess. by hand: only a person can name it. */
export type Certainty = 'sure' | 'doubtful' | 'by hand'

export interface Placed {
  name: string
  /** Folders from the share down. */
  folders: string[]
  certainty: Certainty
  /** What there is to say of the name; empty for what is sure. */
  remarks: Sentence[]
}

/** What else is known of it. */
export interface Known {
  kind: FileKind
  /** When the first version of it was written; ISO 8601. */
  at: string
  title: string
}

/** A name that can be saved; one that nothing is left of is called by what it is. */
function savable(name: string): string {
  const right = correctName(name.normalize('NFC'))
  if (right && !checkName(right)) return right
  const [, ending] = splitExtension(name)
  return `${'file'}${/^\.[a-z0-9]{1,12}$/i.test(ending) ? ending : ''}`
}

/** Names files that go below one folder, each under a name of its own where it goes. */
export class Placing {
  private readonly taken = new Map<string, Set<string>>()
  /** @param folderId where they go; null for the share itself */
  constructor(
    private readonly auditor: Auditor,
    private readonly folderId: string | null,
  ) {}

  /** Whether a name follows the convention there: then a date in it is part of what the file is. */
  follows(name: string): boolean {
    const stem = splitExtension(name)[0]
    return !!this.auditor.conventionAt(this.folderId)?.versions.some(({ ready }) => ready.parse(stem))
  }

  place({ name: wanted, folders }: Pick<Series, 'name' | 'folders'>, known: Known): Placed {
    const base = this.auditor.pathTo(this.folderId)
    const below = [...base, ...folders.map(savable)]
    const name = savable(wanted)
    const remarks: Sentence[] = []
    if (name !== wanted) remarks.push(say('intake.name-put-right'))
    const { state, proposal, faults, doubts } = this.auditor.audit({
      id: '',
      folderId: this.folderId,
      name,
      kind: known.kind,
      at: known.at,
      title: known.title,
    })
    // The rule sends it elsewhere; where there is none it lies as it lay.
    const ruled = proposal && proposal.path.join('/') !== base.join('/')
    const placed: Placed =
      state === 'differs' && proposal
        ? {
            name: proposal.name,
            folders: ruled ? [...proposal.path] : below,
            certainty: doubts.length ? 'doubtful' : 'sure',
            remarks: [...remarks, ...doubts],
          }
        : state === 'differs'
          ? { name, folders: below, certainty: 'by hand', remarks: [...remarks, ...faults.map(({ reason }) => reason)] }
          : { name, folders: below, certainty: 'sure', remarks }
    const free = this.free(placed)
    if (free === placed.name) return placed
    return {
      ...placed,
      name: free,
      certainty: placed.certainty === 'sure' ? 'doubtful' : placed.certainty,
      remarks: [say('intake.name-twice', { name: placed.name }), ...placed.remarks],
    }
  }

  private free({ name, folders }: Placed): string {
    const key = folders.map(nameKey).join('/')
    const taken = this.taken.get(key) ?? new Set<string>()
    this.taken.set(key, taken)
    const free = freeName(name, taken)
    taken.add(nameKey(free))
    return free
  }
}
