import { z } from 'zod'

/** What a drill found on one level. Lost is what had been typed and was not got back. */
const Level = z.object({
  charactersLost: z.number().int().min(0),
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
  charactersTyped: z.number().int(),
  typedMs: z.number(),
  /** Seconds. */
  interval: z.number().int(),
  device: Level,
  /** null when no recovery point was due within the drill. */
  sharedStorage: Level.nullable(),
  /** What went wrong, in words. */
  faults: z.array(z.string()),
})
export type DrillReport = z.infer<typeof DrillReport>

export const NewDrill = z.object({
  id: z.uuid(),
  deviceId: z.uuid(),
  deviceName: z.string().max(100),
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
