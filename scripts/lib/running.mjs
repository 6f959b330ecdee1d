// What runs from a data folder, so that a later start finds it: a file with the keeper's and the server's
// process ids and the address. A process id counts only while that process is what it was.
import { readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'

/** Whether a process is there and was started with `part` in its command line. */
export function isProcess(pid, part) {
  try {
    process.kill(pid, 0)
    const state = readFileSync(`/proc/${pid}/stat`, 'utf8')
    return !/\) Z /.test(state) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(part)
  } catch {
    return false
  }
}

/** @returns {{ keeper: number, server?: number, address: string, since: string } | null} */
export function readRunning(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'))
  } catch {
    return null
  }
}

export function writeRunning(file, running) {
  writeFileSync(`${file}.new`, JSON.stringify(running))
  renameSync(`${file}.new`, file)
}
export const forgetRunning = (file) => rmSync(file, { force: true })

/** Waits until a process is gone. @returns whether it went in time */
export async function isGone(pid, part, milliseconds) {
  const end = Date.now() + milliseconds
  while (isProcess(pid, part)) {
    if (Date.now() > end) return false
    await new Promise((done) => setTimeout(done, 50))
  }
  return true
}
