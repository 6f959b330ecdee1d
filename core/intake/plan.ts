// What becomes of a drive: which of its files are versions of one, what each is called and where it goes.
import type { ShareNaming } from '../contract/naming'
import { fileType, typeOfName } from '../formats/types'
import { type AuditFolder, Auditor } from '../naming/audit'
import { type Placed, Placing } from './place'
import { type Found, foldSeries, type Series } from './series'

/** A file of the drive, as it was read. */
export type PlannedFile = Omit<Found, 'type' | 'follows'> & { title: string }
export interface Goal {
  naming: ShareNaming
  /** Folders of the share. */
  folders: readonly AuditFolder[]
  /** Where all of it goes; null for the share itself. */
  folderId: string | null
}

/** With the name and the place that it gets here. */
export type Planned = Series & Placed

const nameOf = (path: string) => path.slice(path.lastIndexOf('/') + 1)

/** @returns in the order of the drive's files; every file is in one of them */
export function planIntake(files: readonly PlannedFile[], { naming, folders, folderId }: Goal): Planned[] {
  const placing = new Placing(new Auditor(naming, folders), folderId)
  const byNo = new Map(files.map((file) => [file.no, file]))
  const series = foldSeries(
    files.map((file) => {
      const name = nameOf(file.path)
      return { ...file, type: typeOfName(name), follows: placing.follows(name) }
    }),
  )
  return series.map((one) => ({ ...one, ...placeOf(placing, one, byNo) }))
}

/** One file of the drive by itself, as if it had no others beside it. */
export function planAlone(file: PlannedFile, goal: Goal): Planned {
  return planIntake([file], goal)[0]!
}

function placeOf(placing: Placing, series: Series, byNo: ReadonlyMap<number, PlannedFile>): Placed {
  const newest = byNo.get(series.files.at(-1)!)!
  const oldest = byNo.get(series.files[0]!)!
  return placing.place(series, {
    kind: fileType(typeOfName(series.name)).kind,
    at: oldest.at,
    title: newest.title,
  })
}
