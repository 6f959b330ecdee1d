// Finds files by words. Each typed word stands for the words of the index that hold it, or, when
// none does, for those one slip away. Block by block, from the newest files on, the files of a word
// are put together from its bitmaps and rows, and the words are intersected; it ends with enough
// hits or with the oldest block. So a hit among a million files costs about what it costs among
// ten thousand, and what is not found is not there.

import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Facet, Hit, SearchAnswer } from '../../core/contract'
import { skeleton } from '../../core/naming/lookalike'
import { nearlySame } from '../../core/naming/neighbours'
import { slipForms, typedWords, wordsOf } from '../../core/naming/search-words'
import { type EntryColumns, entryColumns, entryJoins, shownEntry } from '../files/entries'
import { seenBy } from '../rights/service'
import { select } from '../sql/rows'
import { fieldBits } from './index-files'
import { bitOf, blockOf, blockSize } from './postings'

const mostHits = 40
/** Blocks that are read at first, and how many times more at each next step. */
const firstBlocks = 4
const wider = 8
/** Words of the index that one typed word can stand for. */
const mostWords = 24

export interface Search {
  q: string
  shareId?: string
  facets: readonly string[]
}

interface Wanted {
  typed: string
  ids: number[]
  words: string[]
  files: number
  slip: boolean
}

/** What is found for a person, newest first among those found in the same way. */
export async function findFiles(
  manager: EntityManager,
  personId: string,
  { q, shareId, facets }: Search,
): Promise<SearchAnswer> {
  const typed = [...new Set(typedWords(q))].slice(0, 8)
  const nothing: SearchAnswer = { hits: [], more: false, facets: [], taken: [] }
  if (!typed.length && !facets.length) return nothing
  const realms = await select(
    manager,
    z.object({ id: z.number(), no: z.number(), newest: z.number() }),
    `select w.id, r.no, (select max(no) from search_file) as newest from realm r ${seenBy('$1', 'r.id')}
     join search_word w on w.word = 'realm:' || r.no where $2::uuid is null or r.share_id = $2`,
    [personId, shareId ?? null],
  )
  if (!realms.length) return nothing
  const mine = realms.map(({ no }) => no)
  const wanted = await meaning(manager, typed, facets, mine)
  if (wanted.some(({ ids }) => ids.length === 0)) return nothing
  wanted.sort((a, b) => a.files - b.files)
  const groups = [...wanted.map(({ ids }) => ids), realms.map(({ id }) => id)]
  const found = await walk(manager, groups, blockOf(realms[0]!.newest))
  const hits = await shownHits(manager, found.nos.slice(0, mostHits), typed, wanted, mine)
  const taken = wanted.filter(({ slip }) => slip).map(({ typed: word, words }) => ({ typed: word, taken: words }))
  return { hits: hits.list, more: found.nos.length > mostHits, facets: hits.facets, taken }
}

/** Which words of these realms each typed word stands for. Words of others count for nothing, also not by being many. */
async function meaning(
  manager: EntityManager,
  typed: readonly string[],
  facets: readonly string[],
  realms: readonly number[],
): Promise<Wanted[]> {
  // One stretch of the index for each word, so that each is read by itself and no further than it must.
  const stretches = typed.map(
    (_, index) =>
      `(select ${index} as n, word_id from search_form f where kind = 't' and form >= $${index * 2 + 3} and form < $${index * 2 + 4}
         and exists (select from search_realm_word s where s.word_id = f.word_id and s.realm_no = any($2) and s.files > 0)
         order by kind, form limit ${mostWords * 2})`,
  )
  const rows = await select(
    manager,
    z.object({ n: z.number(), id: z.number(), word: z.string(), files: z.number() }),
    `select t.n, w.id, w.word, (select coalesce(sum(s.files), 0)::int from search_realm_word s where s.word_id = w.id and s.realm_no = any($2)) as files from (${[...stretches, `(select ${facetsFrom} + n::int as n, id as word_id from search_word join unnest($1::text[]) with ordinality as f(word, n) using (word))`].join(' union all ')}) t
     join search_word w on w.id = t.word_id`,
    [facets, realms, ...typed.flatMap((word) => [word, `${word}\u{10ffff}`])],
  )
  const wanted: Wanted[] = []
  for (const [index, word] of typed.entries()) {
    const known = new Map(rows.filter(({ n, files }) => n === index && files > 0).map((row) => [row.id, row]))
    // The word itself, then words that begin with it, then words that hold it; the commoner first.
    const found = [...known.values()]
      .sort((a, b) => rank(a.word, word) - rank(b.word, word) || b.files - a.files)
      .slice(0, mostWords)
    wanted.push({
      typed: word,
      ids: found.map(({ id }) => id),
      words: found.map((one) => one.word),
      files: sum(found),
      slip: false,
    })
  }
  const lost = wanted.filter(({ ids }) => ids.length === 0)
  if (lost.length) {
    const forms = [...new Set(lost.flatMap((one) => slipForms(one.typed)))]
    const near = forms.length
      ? await select(
          manager,
          z.object({ form: z.string(), id: z.number(), word: z.string(), files: z.number() }),
          `select f.form, w.id, w.word, sum(s.files)::int as files from search_form f join search_word w on w.id = f.word_id
             join search_realm_word s on s.word_id = w.id and s.realm_no = any($2) and s.files > 0
           where f.kind = 's' and f.form = any($1) group by f.form, w.id, w.word`,
          [forms, realms],
        )
      : []
    for (const one of lost) {
      const own = new Set(slipForms(one.typed))
      const found = new Map(
        near.filter(({ form, word }) => own.has(form) && nearlySame(word, one.typed)).map((row) => [row.id, row]),
      )
      const best = [...found.values()].sort((a, b) => b.files - a.files).slice(0, mostWords)
      Object.assign(one, {
        ids: best.map(({ id }) => id),
        words: best.map(({ word }) => word),
        files: sum(best),
        slip: true,
      })
    }
  }
  for (const [index, facet] of facets.entries()) {
    const found = rows.filter(({ n, files }) => n === facetsFrom + index + 1 && files > 0)
    wanted.push({ typed: facet, ids: found.map(({ id }) => id), words: [facet], files: sum(found), slip: false })
  }
  return wanted
}
const facetsFrom = 100

const rank = (word: string, typed: string) => (word === typed ? 0 : word.startsWith(typed) ? 1 : 2)
const sum = (rows: readonly { files: number }[]) => rows.reduce((total, { files }) => total + files, 0)

const wordsOfBlock = blockSize / 32

/** Numbers of the files that have a word of every group, newest first; at most one more than are shown. */
async function walk(
  manager: EntityManager,
  groups: readonly (readonly number[])[],
  newest: number,
): Promise<{ nos: number[] }> {
  const groupOf = new Map<number, number[]>()
  for (const [group, ids] of groups.entries())
    for (const id of ids) groupOf.set(id, [...(groupOf.get(id) ?? []), group])
  const ids = [...groupOf.keys()]
  const nos: number[] = []
  let high = newest
  for (let span = firstBlocks; high >= 0 && nos.length <= mostHits; span *= wider) {
    const low = Math.max(0, high - span + 1)
    const [dense, sparse] = await Promise.all([
      select(
        manager,
        z.object({ word_id: z.number(), block: z.number(), files: z.instanceof(Buffer) }),
        'select word_id, block, files from search_block where word_id = any($1) and block between $2 and $3',
        [ids, low, high],
      ),
      select(
        manager,
        z.object({ word_id: z.number(), nos: z.array(z.number()) }),
        'select word_id, array_agg(no) as nos from search_posting where word_id = any($1) and no between $2 and $3 group by word_id',
        [ids, low * blockSize, (high + 1) * blockSize - 1],
      ),
    ])
    const blocks = new Map<number, (Uint32Array | undefined)[]>()
    const bits = (block: number, group: number): Uint32Array => {
      let all = blocks.get(block)
      if (!all) blocks.set(block, (all = []))
      return (all[group] ??= new Uint32Array(wordsOfBlock))
    }
    for (const { word_id, block, files } of dense) {
      // A copy begins where 32-bit words may.
      const given = new Uint32Array(Uint8Array.from(files).buffer)
      for (const group of groupOf.get(word_id)!) {
        const into = bits(block, group)
        for (let at = 0; at < wordsOfBlock; at++) into[at]! |= given[at]!
      }
    }
    for (const row of sparse)
      for (const no of row.nos)
        for (const group of groupOf.get(row.word_id)!)
          bits(blockOf(no), group)[bitOf(no) >> 5]! |= 1 << (bitOf(no) & 31)
    for (let block = high; block >= low && nos.length <= mostHits; block--) {
      const all = blocks.get(block)
      if (!all || groups.some((_, group) => !all[group])) continue
      for (let at = wordsOfBlock - 1; at >= 0 && nos.length <= mostHits; at--) {
        let word = all[0]![at]!
        for (let group = 1; group < groups.length && word; group++) word &= all[group]![at]!
        for (let bit = 31; word && bit >= 0; bit--)
          if (word & (1 << bit)) {
            nos.push(block * blockSize + at * 32 + bit)
            word &= ~(1 << bit)
          }
      }
    }
    high = low - 1
  }
  return { nos }
}

async function shownHits(
  manager: EntityManager,
  found: readonly number[],
  typed: readonly string[],
  wanted: readonly Wanted[],
  /** What the person may see now, whatever the index says of a file that was moved since. */
  realms: readonly number[],
): Promise<{ list: Hit[]; facets: Facet[] }> {
  if (!found.length) return { list: [], facets: [] }
  const typedIds = wanted.filter((one) => typed.includes(one.typed)).flatMap(({ ids }) => ids)
  const rows = await select(
    manager,
    z.custom<EntryColumns & { no: number; share_name: string; facets: string[]; former: string[]; bits: number }>(),
    `select ${entryColumns}, i.no, s.name as share_name, i.facets,
       coalesce((select bit_or(f) from unnest(i.words, i.fields) as t(w, f) where w = any($2)), 0) as bits,
       array(select n.name from former_name n where n.entry_id = e.id order by n.until desc limit 50) as former
     ${entryJoins} join search_file i on i.file_id = e.id join share s on s.id = e.share_id join realm r on r.id = e.realm_id
     where i.no = any($1) and e.removed_at is null and r.no = any($3)`,
    [found, typedIds, realms],
  )
  const trails = await trailsTo(
    manager,
    [...new Set(rows.map((row) => row.folder_id))].filter((id) => id !== null),
  )
  const order = new Map(found.map((no, index) => [no, index]))
  const scored = rows.map((row) => {
    const inName = new Set(wordsOf(row.name))
    const bones = skeleton(row.name)
    // Whole words of the name count most, then parts of it, then everything else.
    const score = typed.reduce((total, word) => total + (inName.has(word) ? 3 : bones.includes(word) ? 2 : 0), 0)
    const former =
      row.bits & fieldBits['former name']
        ? formerWith(
            row.former,
            typed.filter((word) => !bones.includes(word)),
          )
        : undefined
    const hit: Hit = {
      file: shownEntry(row),
      share: row.share_name,
      folders: row.folder_id ? (trails.get(row.folder_id) ?? []) : [],
      found: (['name', 'former name', 'value', 'person', 'content'] as const).filter(
        (field) => row.bits & fieldBits[field],
      ),
      formerName: former ?? null,
    }
    return { hit, score, order: order.get(row.no)!, facets: row.facets }
  })
  // Among equals the one that was saved last, however late the index came to know of another one's new place.
  const savedAt = ({ hit }: (typeof scored)[number]) => hit.file.head?.at ?? ''
  scored.sort((a, b) => b.score - a.score || savedAt(b).localeCompare(savedAt(a)) || a.order - b.order)
  const counted = new Map<string, number>()
  for (const { facets } of scored) for (const facet of facets) counted.set(facet, (counted.get(facet) ?? 0) + 1)
  return {
    list: scored.map(({ hit }) => hit),
    facets: [...counted]
      .map(([key, files]) => ({ key, label: key.slice(key.indexOf(':') + 1), files }))
      .sort((a, b) => b.files - a.files || a.key.localeCompare(b.key)),
  }
}

/** The one of these that has most of the words, of several the latest; undefined where none has any. */
function formerWith(former: readonly string[], words: readonly string[]): string | undefined {
  let best: { name: string; words: number } | undefined
  for (const name of former) {
    const bones = skeleton(name)
    const has = words.filter((word) => bones.includes(word)).length
    if (has > (best?.words ?? 0)) best = { name, words: has }
  }
  return best?.name
}

/** Names of the folders down to each of these, in one question. */
async function trailsTo(manager: EntityManager, folderIds: readonly string[]): Promise<Map<string, string[]>> {
  if (!folderIds.length) return new Map()
  const rows = await select(
    manager,
    z.object({ start: z.string(), names: z.array(z.string()) }),
    `with recursive up(start, name, folder_id, depth) as (
       select id, name, folder_id, 0 from entry where id = any($1)
       union all select up.start, e.name, e.folder_id, up.depth + 1 from entry e join up on e.id = up.folder_id where up.depth < 100)
     select start, array_agg(name order by depth desc) as names from up group by start`,
    [folderIds],
  )
  return new Map(rows.map(({ start, names }) => [start, names]))
}
