import { z } from 'zod'
import { count, described } from './text'

/** What a drill found on one level. Lost is what had been typed and was not got back. */
const Level = z.object({
  charactersLost: count,
  /** From the last edit that was got back to the last one typed; milliseconds. */
  lostMs: z.number().min(0),
  /** How long getting back took; milliseconds. */
  backMs: z.number().min(0),
  /** What the level promises at most; milliseconds. */
  promisedMs: z.number().min(0),
})

export const DrillReport = z.object({
  /** The first drills were of documents only, and did not say so. */
  kind: z.enum(['document', 'spreadsheet']).default('document'),
  /** Whether both levels kept their promise and what was got back is what was typed. */
  passed: z.boolean(),
  charactersTyped: count,
  typedMs: z.number(),
  /** Seconds. */
  interval: count,
  device: Level,
  /** null when no recovery point was due within the drill. */
  sharedStorage: Level.nullable(),
  /** What went wrong, in words. */
  faults: z.array(described(1000)).max(50),
})
export type DrillReport = z.infer<typeof DrillReport>

export const NewDrill = z.object({
  id: z.uuid(),
  deviceId: z.uuid(),
  deviceName: described(100),
  report: DrillReport,
})
export const Drill = z.object({
  id: z.uuid(),
  at: z.iso.datetime(),
  deviceId: z.uuid(),
  deviceName: z.string(),
  report: DrillReport,
})
export type Drill = z.infer<typeof Drill>
