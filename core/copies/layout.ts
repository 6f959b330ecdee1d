// Where each version lies in a copy: a file's latest one where people know it, earlier ones in a folder beside it, under
// their date, number and author.
import { nameAs } from '../formats/types'
import { checkName, nameKey, splitExtension } from '../naming/check'
import { payloadFolder } from './bag'
import { type Holding, holdsEarlier, sinceOf } from './plan'

export interface CopiedFolder {
  id: string
  parentId: string | null
  name: string
}
export interface CopiedVersion {
  id: string
  number: number
  /** In hex. */
  sha256: string
  size: number
  author: string
  /** ISO 8601, UTC. */
  at: string
  /** It has a label. */
  kept: boolean
  /** Its type; that of its file where nothing is said. */
  type?: string
}
export interface CopiedFile {
  id: string
  folderId: string | null
  name: string
  /** By their numbers; the last one is the latest. */
  versions: readonly CopiedVersion[]
}
export interface Placed {
  path: string
  fileId: string
  versionId: string
  sha256: string
  size: number
}

const longest = 255
const bytes = (text: string) => new TextEncoder().encode(text).length

/** A name with room for what stands around it, whole letters only. */
function cut(name: string, room: number): string {
  let [size, end] = [0, 0]
  for (const letter of name) {
    size += bytes(letter)
    if (size > room) break
    end += letter.length
  }
  return name.slice(0, end).replace(/[\s.]+$/, '')
}

/**
 * A name as every file system takes it; of one that is fine, itself. A percent sign becomes the wide one: a manifest would
 * write it as in addresses (RFC 8493, §2.1.3), which programs that only know checksums do not read.
 */
export function plain(name: string): string {
  let now = name.normalize('NFC').replaceAll('%', '％')
  for (let round = 0; round < 10; round++) {
    const fault = checkName(now)
    if (!fault) return now
    now =
      fault.correction && fault.correction !== now ? fault.correction : `_${now.replace(/[^\p{L}\p{N}._ -]/gu, '_')}`
  }
  return '_'
}

/** The first of "name", "name (2)" … that is not taken there; takes it. */
function free(name: string, taken: Set<string>): string {
  const [stem, extension] = splitExtension(name)
  for (let number = 1; ; number++) {
    const mark = number === 1 ? '' : ` (${number})`
    const one = mark ? `${cut(stem, longest - bytes(mark + extension))}${mark}${extension}` : name
    const key = nameKey(one)
    if (taken.has(key)) continue
    taken.add(key)
    return one
  }
}

/** "2026-11-10 0920 version 3 Ben Marlowe.docx", the time in UTC. */
function earlierName({ at, number, author }: CopiedVersion, extension: string): string {
  const [day, time] = [at.slice(0, 10), at.slice(11, 16).replace(':', '')]
  return plain(`${cut(`${day} ${time} version ${number} ${author}`, longest - bytes(extension))}${extension}`)
}

/**
 * The files of a copy. The same facts give the same places; names that no file system refuses stay as they are.
 * @param holding what is copied of the files of each folder (null: of the share itself) @param now days back are from then
 * @returns what lies where, and the names that had to be others, by their paths
 */
export function layOut(
  folders: readonly CopiedFolder[],
  files: readonly CopiedFile[],
  holding: (folderId: string | null) => Holding,
  now: Date,
): { placed: Placed[]; renamed: Map<string, string> } {
  const placed: Placed[] = []
  const renamed = new Map<string, string>()
  const within = new Map<string | null, { folders: CopiedFolder[]; files: CopiedFile[] }>()
  const inside = (id: string | null) => {
    let there = within.get(id)
    if (!there) within.set(id, (there = { folders: [], files: [] }))
    return there
  }
  for (const folder of folders) inside(folder.parentId).folders.push(folder)
  for (const file of files) inside(file.folderId).files.push(file)
  const byName = (a: { name: string; id: string }, b: { name: string; id: string }) =>
    a.name < b.name ? -1 : a.name > b.name ? 1 : a.id < b.id ? -1 : 1
  const open: [id: string | null, path: string][] = [[null, payloadFolder]]
  for (let next = open.pop(); next; next = open.pop()) {
    const [id, path] = next
    const there = within.get(id)
    if (!there) continue
    const taken = new Set<string>()
    // What people named comes first: a name that is made here gives way.
    for (const folder of there.folders.sort(byName)) {
      const name = free(plain(folder.name), taken)
      if (name !== folder.name) renamed.set(`${path}${name}`, folder.name)
      open.push([folder.id, `${path}${name}/`])
    }
    const { extent, ...held } = holding(id)
    if (extent === 'nothing') continue
    const since = sinceOf(held, now)
    const names = new Map<CopiedFile, string>()
    for (const file of there.files.sort(byName)) {
      const name = free(plain(file.name), taken)
      if (name !== file.name) renamed.set(`${path}${name}`, file.name)
      names.set(file, name)
    }
    for (const [file, name] of names) {
      const latest = file.versions.at(-1)
      if (!latest) continue
      const put = (where: string, { id: versionId, sha256, size }: CopiedVersion) =>
        placed.push({ path: where, fileId: file.id, versionId, sha256, size })
      put(`${path}${name}`, latest)
      const earlier = file.versions.slice(0, -1).filter((version) => holdsEarlier(extent, since, version))
      if (!earlier.length) continue
      const own = free(plain(`Earlier versions of ${cut(name, longest - bytes('Earlier versions of '))}`), taken)
      const used = new Set<string>()
      for (const version of earlier) {
        // A file that went on as another type was what it was.
        const [, extension] = splitExtension(version.type === undefined ? name : nameAs(name, version.type))
        put(`${path}${own}/${free(earlierName(version, extension), used)}`, version)
      }
    }
  }
  return { placed, renamed }
}
