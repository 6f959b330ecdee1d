// Every action by name: listed in the command palette and reached by its keys.
import { useEffect, useRef, useSyncExternalStore } from 'react'

export interface Command {
  id: string
  label: string
  /** Other words that it is looked for by. */
  words?: string
  /** For example `Mod+S`; Mod is Control, or Command on a Mac. */
  keys?: string
  /** What has the keyboard hears its keys itself; elsewhere they do nothing. */
  heard?: boolean
  /** Under which heading it stands in the list. */
  group: string
  run: () => void
}

let commands: readonly Command[] = []
const listeners = new Set<() => void>()
const changed = (next: readonly Command[]) => {
  commands = next
  for (const listener of listeners) listener()
}
const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}
export const useCommands = (): readonly Command[] => useSyncExternalStore(subscribe, () => commands)

/** Offers commands while the component is mounted. */
export function useOffer(offered: Command[]): void {
  const latest = useRef(offered)
  latest.current = offered
  const shape = offered.map(({ id, label, keys }) => `${id}|${label}|${keys}`).join('\n')
  // biome-ignore lint/correctness/useExhaustiveDependencies: offered anew when what is listed of it changed; what a command does is always the latest
  useEffect(() => {
    const mine = latest.current.map((command) => ({
      ...command,
      run: () => latest.current.find(({ id }) => id === command.id)?.run(),
    }))
    changed([...commands, ...mine])
    return () => changed(commands.filter((command) => !mine.includes(command)))
  }, [shape])
}

function pressed(event: KeyboardEvent): string {
  // Plus stands behind Shift on some keyboards, on the key of the equals sign.
  const isPlus = event.key === '+' || event.key === '='
  return [
    event.ctrlKey || event.metaKey ? 'Mod' : '',
    event.altKey ? 'Alt' : '',
    event.shiftKey && !isPlus ? 'Shift' : '',
    // With Shift a digit gives another sign; which one depends on the layout.
    isPlus
      ? '+'
      : /^Digit\d$/.test(event.code)
        ? event.code.slice(5)
        : event.key.length === 1
          ? event.key.toUpperCase()
          : event.key,
  ]
    .filter(Boolean)
    .join('+')
}

/** Runs a command by its id, where it is offered. */
export const runCommand = (id: string): void => commands.findLast((one) => one.id === id)?.run()

/** Runs the command of the pressed keys. */
export function runByKeys(event: KeyboardEvent): boolean {
  const keys = pressed(event)
  const command = commands.findLast((one) => one.keys === keys && !one.heard)
  if (!command) return false
  event.preventDefault()
  command.run()
  return true
}
