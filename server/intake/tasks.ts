// What is done of an intake in a thread of its own: a file is read and described, or all of a drive is planned.
import { createHash } from 'node:crypto'
import type { DriveFault } from '../../core/contract'
import { describeFile } from '../../core/intake/describe'
import { type Goal, type Planned, type PlannedFile, planIntake } from '../../core/intake/plan'
import { sketchBytes } from '../../core/intake/sketch'
import { readOnDrive } from './drive'

export interface ReadFile {
  sha256: Uint8Array
  size: number
  at: string | null
  author: string
  title: string
  sketch: Uint8Array
  fault: DriveFault | null
}
export type Task = { read: { root: string; path: string } } | { plan: { files: PlannedFile[]; goal: Goal } }

async function readFile({ root, path }: { root: string; path: string }): Promise<ReadFile> {
  const bytes = await readOnDrive(root, path)
  const { at, author, title, sketch, fault } = describeFile(bytes, path)
  return {
    sha256: createHash('sha256').update(bytes).digest(),
    size: bytes.length,
    at,
    author,
    title,
    sketch: sketchBytes(sketch),
    fault,
  }
}

/** @returns ReadFile or Planned[] */
export function doTask(task: Task): Promise<ReadFile> | Planned[] {
  return 'read' in task ? readFile(task.read) : planIntake(task.plan.files, task.plan.goal)
}

/** How it is done: in threads, where there are some. */
export interface IntakeTasks {
  read(root: string, path: string): Promise<ReadFile>
  plan(files: PlannedFile[], goal: Goal): Promise<Planned[]>
  /** Files that are read at once. */
  atOnce: number
  close(): Promise<void>
}
export const tasksHere: IntakeTasks = {
  read: (root, path) => doTask({ read: { root, path } }) as Promise<ReadFile>,
  plan: async (files, goal) => doTask({ plan: { files, goal } }) as Planned[],
  atOnce: 2,
  close: async () => {},
}
