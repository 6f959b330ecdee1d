// What each interval would mean for this person's rhythm on this device, and which one is advised.
import { useMemo } from 'react'
import { factsOf, fewestEdits, type IntervalFacts, recommend } from '../../core/recovery/advice'
import { sayInterval } from '../../core/recovery/protection'
import { readCost, readRhythm } from '../app/rhythm'
import { Button } from '../design/controls'
import { usePlot } from '../design/plot'
import { size } from '../design/words'

const shown = [5, 10, 15, 30, 60, 120, 300, 900, 1800, 3600]
const hoursADay = 4

export function IntervalAdvice({ present, onSet }: { present: number; onSet: (seconds: number) => void }) {
  const { rhythm, cost, edits } = useMemo(() => {
    const counted = readRhythm()
    return { rhythm: counted, cost: readCost(), edits: counted.gaps.reduce((sum, n) => sum + n, 0) }
  }, [])
  const enough = edits >= fewestEdits
  const all = useMemo(
    (): IntervalFacts[] =>
      enough
        ? [...new Set([...shown, present])]
            .sort((a, b) => a - b)
            .map((interval) => factsOf(rhythm, interval, cost, hoursADay))
        : [],
    [present, enough],
  )
  const advice = useMemo(
    () => (enough ? recommend(all.filter(({ interval }) => shown.includes(interval))) : null),
    [all],
  )
  const now = all.find(({ interval }) => interval === present)
  const place = usePlot(
    (token) => {
      if (!all.length || !now) return null
      const line = (pick: (facts: IntervalFacts) => number, name: string, paint: string, dash?: string) => ({
        x: all.map(({ interval }) => interval),
        y: all.map(pick),
        name,
        mode: 'lines+markers',
        line: { color: paint, width: 2, dash },
        marker: { size: 5 },
        customdata: all.map(({ interval, bytesADay, requestsADay }) => [
          sayInterval(interval),
          size(bytesADay),
          Math.round(requestsADay).toLocaleString('en'),
        ]),
        hovertemplate: `%{customdata[0]}: %{y:.0f} letters ${name}<br>%{customdata[1]} and %{customdata[2]} requests a day<extra></extra>`,
      })
      return {
        traces: [
          line(({ expectedLost }) => expectedLost, 'on average', token('--accent')),
          line(({ worstLost }) => worstLost, 'at worst', token('--ochre'), 'dot'),
        ],
        layout: {
          height: 240,
          margin: { l: 56, r: 12, t: 8, b: 44 },
          xaxis: {
            type: 'log',
            title: { text: 'Recovery interval', standoff: 12 },
            automargin: true,
            tickvals: [5, 15, 60, 300, 900, 3600],
            ticktext: ['5 s', '15 s', '1 min', '5 min', '15 min', '60 min'],
            gridcolor: token('--rule'),
            fixedrange: true,
          },
          yaxis: {
            type: 'log',
            title: { text: 'Letters lost', standoff: 12 },
            automargin: true,
            tickvals: [1, 10, 100, 1000, 10_000, 100_000],
            tickformat: ',d',
            gridcolor: token('--rule'),
            fixedrange: true,
          },
          shapes: [
            {
              type: 'line',
              x0: present,
              x1: present,
              y0: 0,
              y1: 1,
              yref: 'paper',
              line: { color: token('--ink'), width: 1, dash: 'dash' },
            },
          ],
          annotations: [
            {
              x: Math.log10(present),
              y: 1,
              yref: 'paper',
              text: 'now',
              showarrow: false,
              xanchor: 'left',
              xshift: 4,
              font: { size: 12 },
            },
          ],
        },
      }
    },
    [all, now],
  )
  if (!enough)
    return (
      <p className="mt-4 text-[14px] text-soft">
        After some work on this device Jaula shows here what each interval would cost and save you. It counts how long
        the pauses between your edits are, on this device only; {edits} of {fewestEdits} so far.
      </p>
    )
  return (
    <figure className="mt-5 rounded-lg border bg-paper px-4 pb-3 pt-3" data-testid="interval-advice">
      <figcaption className="flex flex-wrap items-baseline gap-x-4 font-semibold">
        If this device were lost
        <span className="ml-auto flex gap-3 text-[13px] font-normal text-soft">
          <span className="flex items-center gap-1.5">
            <span className="h-0.5 w-4 bg-accent" /> on average
          </span>
          <span className="flex items-center gap-1.5">
            <span className="w-4 border-t-2 border-dotted border-ochre" /> at worst
          </span>
        </span>
      </figcaption>
      <div ref={place} aria-hidden />
      <table className="sr-only">
        <tbody>
          {all.map((facts) => (
            <tr key={facts.interval}>
              <th scope="row">{sayInterval(facts.interval)}</th>
              <td>{Math.round(facts.expectedLost)} letters on average</td>
              <td>{Math.round(facts.worstLost)} at worst</td>
              <td>{size(facts.bytesADay)} a day</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-[14px]">
        {now &&
          `With ${sayInterval(present)}: ${Math.round(now.expectedLost)} letters on average, ${Math.round(now.worstLost)} at worst; ${size(now.bytesADay)} and ${Math.round(now.requestsADay).toLocaleString('en')} requests in a day of ${hoursADay} hours’ work.`}
      </p>
      {advice && (
        <p className="flex flex-wrap items-center gap-3 pt-2 text-[14px]">
          <span className="min-w-0 flex-1">
            Advised: <strong className="font-semibold">{sayInterval(advice.interval)}</strong>. {advice.reason}
          </span>
          {advice.interval !== present && (
            <Button onClick={() => onSet(advice.interval)}>Use {sayInterval(advice.interval)}</Button>
          )}
        </p>
      )}
    </figure>
  )
}
