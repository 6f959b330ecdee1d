// How somebody likes pages: as it was the last time, how it was on a printer, and what was kept under names.
import { queryOptions } from '@tanstack/react-query'
import { sizes } from '../../core/content/paper-sizes'
import { type KeptLikes, noChoices, type PaperLikes, type Printer } from '../../core/contract'
import { type Arrangement, plainArrangement } from '../../core/paper/imposition'
import { call } from '../api/call'
import { keys } from '../api/keys'

export const usualLikes: PaperLikes = {
  ...plainArrangement,
  paper: noChoices,
  standard: 'plain',
  range: '',
  colour: true,
  printerId: null,
  allSheets: false,
}
export const likesQuery = queryOptions({
  queryKey: keys.paperLikes(),
  queryFn: () => call('paperLikes', {}),
  staleTime: Number.POSITIVE_INFINITY,
})
export const printersQuery = queryOptions({
  queryKey: keys.printers(),
  queryFn: () => call('printers', {}),
  refetchInterval: 5000,
})
export const jobsQuery = queryOptions({ queryKey: keys.printing(), queryFn: () => call('printJobs', {}) })

/** What was kept before there was something to choose is as usual in that. */
const completed = (likes: PaperLikes): PaperLikes => ({
  ...usualLikes,
  ...likes,
  paper: { ...noChoices, ...likes.paper },
})

/** What begins anew with each file: which pages of it, and how many. */
const anew = { range: '', copies: 1 } as const
/** Whoever never printed begins with a printer of the office that answers. */
export function lastLikes(kept: readonly KeptLikes[] = [], printers: readonly Printer[] = []): PaperLikes {
  const last = kept.find(({ about }) => about === 'last')?.likes
  if (last) return { ...completed(last), ...anew }
  return { ...usualLikes, printerId: printers.find(({ now }) => now)?.id ?? null }
}
export const namedLikes = (kept: readonly KeptLikes[]): [string, PaperLikes][] =>
  kept.flatMap(({ about, likes }) =>
    about.startsWith('named ') ? [[about.slice('named '.length), { ...completed(likes), ...anew }]] : [],
  )
/** What goes with the printer: how it was on it the last time. */
export function onPrinter(kept: readonly KeptLikes[], likes: PaperLikes, printerId: string | null): PaperLikes {
  const before = printerId && kept.find(({ about }) => about === `printer ${printerId}`)?.likes
  if (!before) return { ...likes, printerId }
  return { ...likes, printerId, sides: before.sides, colour: before.colour }
}
export const keep = (about: string, likes: PaperLikes): Promise<unknown> =>
  call('keepPaperLikes', { body: { about, likes } })

/** What a printer can, beside what is wished for: what it cannot is done another way, or not offered. */
export function arrangementFor(likes: PaperLikes, printer: Printer | undefined): Arrangement {
  const { which, reverse, copies, collate, fold, perSide, order, frames, sides } = likes
  const turns = printer?.now?.sides ?? ['one', 'long', 'short']
  // What it cannot turn is turned by hand.
  const can = sides === 'one' || sides === 'hand' || turns.includes(sides)
  return {
    which,
    reverse,
    copies,
    collate,
    fold,
    perSide: fold ? 1 : perSide,
    order,
    frames,
    sides: fold ? (turns.includes('short') ? 'short' : 'hand') : can ? sides : 'hand',
  }
}
export const sizeInPoints = (size: PaperLikes['paper']['size']): { width: number; height: number } | null =>
  size && { width: sizes[size][0], height: sizes[size][1] }
