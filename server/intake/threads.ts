import type { Planned } from '../../core/intake/plan'
import { openPool } from '../threads/pool'
import type { IntakeTasks, ReadFile } from './tasks'

/** Half of the processors: people's own work goes on beside it. @param threads at most */
export function intakeInThreads(script: URL, threads = 2): IntakeTasks {
  // A file that takes more than its share is one that cannot be read; planning a hundred thousand takes seconds.
  const reading = openPool(script, { threads, memory: 768, patience: 30_000 })
  const planning = openPool(script, { memory: 1536, patience: 600_000 })
  return {
    read: (root, path) => reading.run<ReadFile>({ read: { root, path } }),
    plan: (files, goal) => planning.run<Planned[]>({ plan: { files, goal } }),
    atOnce: threads * 2,
    async close() {
      await reading.close()
      await planning.close()
    },
  }
}
