// Finds files by words. Each typed word stands for the words of the index that hold it, or, when
// none does, for those one slip away. The rarest typed word is walked from the newest file on, and
// the others are looked up for each file: a hit costs the same among ten thousand files and a
// million. The walk ends with enough hits, or after `farthest` files with what there is, saying so.
import type { EntityManager } from 'typeorm'
import type { Facet, Hit, SearchAnswer } from '../../core/contract'
import { skeleton } from '../../core/naming/lookalike'
import { nearlySame } from '../../core/naming/neighbours'
import { slipForms, typedWords, wordsOf } from '../../core/naming/search-words'
import { type EntryColumns, entryColumns, entryJoins, shownEntry } from '../files/service'
import { fieldBits } from './index-files'

const mostHits = 40
/** Files of the rarest word that are walked before the first answer, and when that found next to nothing. */
const farthest = [600, 20_000] as const
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
  const shares: { no: number }[] = await manager.query(
    `select s.no from share s join membership m on m.share_id = s.id and m.person_id = $1 where $2::uuid is null or s.id = $2`,
    [personId, shareId ?? null],
  )
  const typed = [...new Set(typedWords(q))].slice(0, 8)
  const nothing: SearchAnswer = { hits: [], more: false, facets: [], taken: [] }
  if (!shares.length || (!typed.length && !facets.length)) return nothing
  const wanted = await meaning(manager, typed, facets)
  if (wanted.some(({ ids }) => ids.length === 0)) return nothing
  wanted.sort((a, b) => a.files - b.files)
  const taken = wanted.filter(({ slip }) => slip).map(({ typed: word, words }) => ({ typed: word, taken: words }))
  const nos = shares.map(({ no }) => no)
  let walked = await walk(manager, nos, wanted, farthest[0])
  if (walked.cut && walked.hits.length < 5) walked = await walk(manager, nos, wanted, farthest[1])
  const hits = await shownHits(manager, walked.hits.slice(0, mostHits), typed)
  return { hits: hits.list, more: walked.hits.length > mostHits || walked.cut, facets: hits.facets, taken }
}

/** Which words of the index each typed word stands for. */
async function meaning(manager: EntityManager, typed: readonly string[], facets: readonly string[]): Promise<Wanted[]> {
  const rows: { n: number; id: number; word: string; files: number }[] = await manager.query(
    `select t.n::int, w.id, w.word, w.files from unnest($1::text[]) with ordinality as t(word, n)
     cross join lateral (
       (select word_id from search_form f where f.kind = 't' and f.form = t.word limit ${mostWords})
       union (select word_id from search_form f where f.kind = 't' and f.form >= t.word and f.form < t.word || chr(1114111) order by f.form limit ${mostWords * 2})
     ) form join search_word w on w.id = form.word_id and w.files > 0
     union all select t.n::int + 100, w.id, w.word, w.files from unnest($2::text[]) with ordinality as t(word, n) join search_word w on w.word = t.word`,
    [typed, facets],
  )
  const wanted: Wanted[] = []
  for (const [index, word] of typed.entries()) {
    const found = rows
      .filter(({ n }) => n === index + 1)
      // The word itself, then words that begin with it, then words that hold it; the commoner first.
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
    const forms = lost.flatMap((one) => slipForms(one.typed).map((form) => ({ form, one })))
    const near: { form: string; id: number; word: string; files: number }[] = forms.length
      ? await manager.query(
          `select f.form, w.id, w.word, w.files from search_form f join search_word w on w.id = f.word_id and w.files > 0 where f.kind = 's' and f.form = any($1)`,
          [[...new Set(forms.map(({ form }) => form))]],
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
    const found = rows.filter(({ n }) => n === index + 101)
    wanted.push({ typed: facet, ids: found.map(({ id }) => id), words: [facet], files: sum(found), slip: false })
  }
  return wanted
}

const rank = (word: string, typed: string) => (word === typed ? 0 : word.startsWith(typed) ? 1 : 2)
const sum = (rows: readonly { files: number }[]) => rows.reduce((total, { files }) => total + files, 0)

/** Walks the first wanted word's postings, newest first. @returns hits and whether the walk was cut short */
async function walk(
  manager: EntityManager,
  shares: readonly number[],
  wanted: readonly Wanted[],
  far: number,
): Promise<{ hits: { share: number; no: number; fields: number }[]; cut: boolean }> {
  const [first, ...others] = wanted
  const pairs = shares.length * first!.ids.length
  const each = Math.max(40, Math.ceil(far / pairs))
  const probes = others
    .map(
      (_, index) => `cross join lateral (select max(p.fields) as f${index} from search_posting p
        where p.share_no = d.share_no and p.word_id = any($${index + 3}) and p.no = d.no) p${index}`,
    )
    .join('\n')
  const conditions = others.map((_, index) => `f${index} is not null`).join(' and ')
  const rows: { share: number; no: number; fields: number; longest: string }[] = await manager.query(
    `with walked as materialized (
       select x.* from unnest($1::int[]) as s(share_no) cross join unnest($2::int[]) as w(word_id)
       cross join lateral (select p.share_no, p.no, p.fields, count(*) over () as n from
         (select share_no, no, fields from search_posting where share_no = s.share_no and word_id = w.word_id order by no desc limit ${each}) p) x),
     d as (select share_no, no, bit_or(fields) as fields from walked group by share_no, no order by no desc)
     select d.share_no as share, d.no, d.fields${others.map((_, index) => ` | f${index}`).join('')} as fields, (select max(n) from walked) as longest
     from d ${probes} ${conditions && `where ${conditions}`} limit ${mostHits + 1}`,
    [shares, first!.ids, ...others.map(({ ids }) => ids)],
  )
  const longest = rows.length ? Number(rows[0]!.longest) : first!.files
  return { hits: rows, cut: rows.length <= mostHits && longest >= each }
}

async function shownHits(
  manager: EntityManager,
  found: readonly { share: number; no: number; fields: number }[],
  typed: readonly string[],
): Promise<{ list: Hit[]; facets: Facet[] }> {
  if (!found.length) return { list: [], facets: [] }
  const rows: (EntryColumns & { no: number; share_name: string; facets: string[]; former: string[] })[] =
    await manager.query(
      `select ${entryColumns}, i.no, s.name as share_name, i.facets,
       array(select n.name from former_name n where n.entry_id = e.id order by n.until desc limit 10) as former
     ${entryJoins} join search_file i on i.file_id = e.id join share s on s.id = e.share_id where i.no = any($1) and e.removed_at is null`,
      [found.map(({ no }) => no)],
    )
  const trails = await trailsTo(
    manager,
    [...new Set(rows.map((row) => row.folder_id))].filter((id) => id !== null),
  )
  const fields = new Map(found.map((one) => [one.no, one.fields]))
  const order = new Map(found.map((one, index) => [one.no, index]))
  const scored = rows.map((row) => {
    const bits = fields.get(row.no)!
    const inName = new Set(wordsOf(row.name))
    const bones = skeleton(row.name)
    // Whole words of the name count most, then parts of it, then everything else.
    const score = typed.reduce((total, word) => total + (inName.has(word) ? 3 : bones.includes(word) ? 2 : 0), 0)
    const former =
      bits & fieldBits['former name']
        ? row.former.find((name) => typed.some((word) => skeleton(name).includes(word) && !bones.includes(word)))
        : undefined
    const hit: Hit = {
      file: shownEntry(row),
      share: row.share_name,
      folders: row.folder_id ? (trails.get(row.folder_id) ?? []) : [],
      found: (['name', 'former name', 'value', 'person', 'content'] as const).filter(
        (field) => bits & fieldBits[field],
      ),
      formerName: former ?? null,
    }
    return { hit, score, order: order.get(row.no)!, facets: row.facets }
  })
  scored.sort((a, b) => b.score - a.score || a.order - b.order)
  const counted = new Map<string, number>()
  for (const { facets } of scored) for (const facet of facets) counted.set(facet, (counted.get(facet) ?? 0) + 1)
  return {
    list: scored.map(({ hit }) => hit),
    facets: [...counted]
      .map(([key, files]) => ({ key, label: key.slice(key.indexOf(':') + 1), files }))
      .sort((a, b) => b.files - a.files || a.key.localeCompare(b.key)),
  }
}

/** Names of the folders down to each of these, in one question. */
async function trailsTo(manager: EntityManager, folderIds: readonly string[]): Promise<Map<string, string[]>> {
  if (!folderIds.length) return new Map()
  const rows: { start: string; names: string[] }[] = await manager.query(
    `with recursive up(start, name, folder_id, depth) as (
       select id, name, folder_id, 0 from entry where id = any($1)
       union all select up.start, e.name, e.folder_id, up.depth + 1 from entry e join up on e.id = up.folder_id)
     select start, array_agg(name order by depth desc) as names from up group by start`,
    [folderIds],
  )
  return new Map(rows.map(({ start, names }) => [start, names]))
}
