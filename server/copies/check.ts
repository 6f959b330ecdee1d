// Whether a copy is what it was: every file of it is read again and held against its checksum, and what is wrong is made
// right from a good place.
import pLimit from 'p-limit'
import { BadBag, declaration, oxumOf, readInfo, readManifest } from '../../core/copies/bag'
import { say } from '../../core/words/said'
import { names } from './copy'
import { CopyFault } from './fault'
import type { CopyFolder } from './folder'

/** Files that are read at once. */
const atOnce = pLimit(6)

export interface Finding {
  path: string
  /** Of a file that is listed: it is not there, or holds something else. Of another: nobody listed it. */
  is: 'missing' | 'wrong' | 'not listed'
  repaired: boolean
}
export interface Checked {
  files: number
  bytes: number
  findings: Finding[]
  /** What of the copy says about itself what is not so. */
  tags: string[]
}

/**
 * @param wasRead is told of each file that was read
 * @param source gives a content's bytes, for what is to be repaired; null where it has none
 * @throws BadBag, CopyFault for what is no copy; nothing of it was changed then
 */
export async function checkCopy(
  bag: CopyFolder,
  source: ((sha256: string) => AsyncIterable<Uint8Array>) | null = null,
  wasRead: () => void = () => {},
): Promise<Checked> {
  const manifest = await bag.text(names.manifest)
  if (manifest === null || (await bag.text(names.declaration)) !== declaration)
    throw new CopyFault(say('copies.not-a-copy', { folder: bag.name }))
  const listed = readManifest(manifest)
  const checked: Checked = { files: 0, bytes: 0, findings: [], tags: await wrongTags(bag) }
  const good = new Map<string, string>()
  const found: Finding[] = []
  const left = new Set(listed.keys())
  const reading: Promise<void>[] = []
  const read = async (path: string, sha256: string) => {
    const own = await bag.sum(path)
    checked.files++
    checked.bytes += own?.size ?? 0
    wasRead()
    if (own?.sha256 === sha256) good.set(sha256, path)
    else found.push({ path, is: own ? 'wrong' : 'missing', repaired: false })
  }
  for await (const { path } of bag.files('data')) {
    const sha256 = listed.get(path)
    if (sha256 === undefined) {
      checked.findings.push({ path, is: 'not listed', repaired: false })
      continue
    }
    left.delete(path)
    reading.push(atOnce(() => read(path, sha256)))
    if (reading.length > 1000) await Promise.all(reading.splice(0))
  }
  await Promise.all(reading)
  for (const path of left) found.push({ path, is: 'missing', repaired: false })
  for (const finding of found) {
    const sha256 = listed.get(finding.path)!
    const other = good.get(sha256)
    const places = [...(source ? [() => source(sha256)] : []), ...(other === undefined ? [] : [() => bag.read(other)])]
    for (const place of places) {
      finding.repaired = await bag
        .write(finding.path, place(), sha256)
        .then(() => true)
        .catch((error: unknown) => {
          // A place that has it not, or has something else, is no good one.
          if (error instanceof RangeError || error instanceof CopyFault) return false
          throw error
        })
      if (finding.repaired) break
    }
  }
  await bag.settle()
  checked.findings.push(...found.sort((a, b) => (a.path < b.path ? -1 : 1)))
  const oxum = readInfo((await bag.text(names.info)) ?? '').get('payload-oxum')
  const whole = !checked.findings.length
  if (whole && oxum !== oxumOf(checked.bytes, checked.files)) checked.tags.push(names.info)
  return checked
}

/** Where a copy says that it has which content. */
export async function contentsOf(bag: CopyFolder): Promise<Map<string, string>> {
  const listed = readManifest((await bag.text(names.manifest)) ?? '')
  return new Map([...listed].map(([path, sha256]) => [sha256, path]))
}

async function wrongTags(bag: CopyFolder): Promise<string[]> {
  const text = await bag.text(names.tags)
  if (text === null) return [names.tags]
  try {
    const wrong: string[] = []
    for (const [path, sha256] of readManifest(text, '')) if ((await bag.sum(path))?.sha256 !== sha256) wrong.push(path)
    return wrong
  } catch (error) {
    if (error instanceof BadBag) return [names.tags]
    throw error
  }
}
