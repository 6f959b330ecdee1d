// Stopped in the middle, what a suite started goes with it.
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => process.exit(1))

/** One measurement: `value` in `unit`, against a baseline measured in the same run. */
export interface Measurement {
  suite: string
  case: string
  value: number
  unit: string
  baseline: number | null
  better: 'lower' | 'higher'
}

/** Prints a measurement as one JSON object on a line. */
export function report({ suite, case: name, value, unit, baseline, better }: Measurement): void {
  const round = (number: number) => Number(number.toPrecision(4))
  process.stdout.write(
    `${JSON.stringify({ suite, case: name, value: round(value), unit, baseline: baseline === null ? null : round(baseline), ratio: baseline ? round(value / baseline) : null, better })}\n`,
  )
}

export function median(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2
}

/** Times two ways of one job in turn, so that a noisy machine disturbs both alike. @returns medians in ms */
export async function inTurn(
  rounds: number,
  ours: () => unknown,
  baseline: () => unknown,
): Promise<{ ours: number; baseline: number }> {
  const times: [number[], number[]] = [[], []]
  for (let round = -1; round < rounds; round++)
    for (const [index, job] of [ours, baseline].entries()) {
      globalThis.gc?.()
      const start = performance.now()
      await job()
      // The first round warms up.
      if (round >= 0) times[index]!.push(performance.now() - start)
    }
  return { ours: median(times[0]), baseline: median(times[1]) }
}
