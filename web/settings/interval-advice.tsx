// What each interval would mean for this person's rhythm on this device, and which one is advised.
import { useMemo } from 'react'
import { factsOf, fewestEdits, type IntervalFacts, recommend } from '../../core/recovery/advice'
import { sayInterval } from '../../core/recovery/protection'
import { Button } from '../design/controls'
import { usePlot } from '../design/plot'
import { T, t, told } from '../words/all'
import { digits, size } from '../words/formats'
import { readCost, readRhythm } from '../work/rhythm'

const shown = [5, 10, 15, 30, 60, 120, 300, 900, 1800, 3600]
const hoursADay = 4

export function IntervalAdvice({ present, onSet }: { present: number; onSet: (seconds: number) => void }) {
  const { rhythm, cost, edits } = useMemo(() => {
    const counted = readRhythm()
    return { rhythm: counted, cost: readCost(), edits: counted.gaps.reduce((sum, n) => sum + n, 0) }
  }, [])
  const enough = edits >= fewestEdits
  // biome-ignore lint/correctness/useExhaustiveDependencies: counted once for a rhythm of this size; it grows with every key
  const all = useMemo(
    (): IntervalFacts[] =>
      enough
        ? [...new Set([...shown, present])]
            .sort((a, b) => a - b)
            .map((interval) => factsOf(rhythm, interval, cost, hoursADay))
        : [],
    [present, enough],
  )
  // biome-ignore lint/correctness/useExhaustiveDependencies: there is advice where there are facts
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
          told(sayInterval(interval)),
          size(bytesADay),
          digits(Math.round(requestsADay)),
        ]),
        hovertemplate: `%{customdata[0]}: ${t('settings.n-letters', { letters: '%{y:.0f}' })} ${name}<br>${t('settings.a-day-with', { bytes: '%{customdata[1]}', requests: '%{customdata[2]}' })}<extra></extra>`,
      })
      return {
        traces: [
          line(({ expectedLost }) => expectedLost, t('settings.on-average'), token('--accent')),
          line(({ worstLost }) => worstLost, t('settings.at-worst'), token('--ochre'), 'dot'),
        ],
        layout: {
          height: 240,
          margin: { l: 56, r: 12, t: 8, b: 44 },
          xaxis: {
            type: 'log',
            title: { text: t('common.recovery-interval'), standoff: 12 },
            automargin: true,
            tickvals: [5, 15, 60, 300, 900, 3600],
            ticktext: [
              '5 s',
              '15 s',
              t('settings.1-min'),
              t('settings.5-min'),
              t('settings.15-min'),
              t('settings.60-min'),
            ],
            gridcolor: token('--rule'),
            fixedrange: true,
          },
          yaxis: {
            type: 'log',
            title: { text: t('settings.letters-lost'), standoff: 12 },
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
              text: t('common.now'),
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
        {t('settings.after-some-work-on-this-computer-jaula', { edits, fewestEdits })}
      </p>
    )
  return (
    <figure className="mt-5 rounded-lg border bg-paper px-4 pb-3 pt-3" data-testid="interval-advice">
      <figcaption className="flex flex-wrap items-baseline gap-x-4 font-semibold">
        <T
          k="settings.if-this-computer-were-lost"
          v={{
            block: (
              <span className="ml-auto flex gap-3 text-[13px] font-normal text-soft">
                <span className="flex items-center gap-1.5">
                  <span className="h-0.5 w-4 bg-accent" /> {t('settings.on-average')}
                </span>
                <span className="flex items-center gap-1.5">
                  <span className="w-4 border-t-2 border-dotted border-ochre" /> {t('settings.at-worst')}
                </span>
              </span>
            ),
          }}
        />
      </figcaption>
      <div ref={place} aria-hidden />
      <table className="sr-only">
        <tbody>
          {all.map((facts) => (
            <tr key={facts.interval}>
              <th scope="row">{told(sayInterval(facts.interval))}</th>
              <td>{t('settings.letters-on-average', { round: Math.round(facts.expectedLost) })}</td>
              <td>{t('settings.at-worst-2', { round: Math.round(facts.worstLost) })}</td>
              <td>{t('settings.a-day', { bytesADay: size(facts.bytesADay) })}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-[14px]">
        {now &&
          t('settings.with-letters-on-average-at-worst-and', {
            sayInterval: sayInterval(present),
            round: Math.round(now.expectedLost),
            round2: Math.round(now.worstLost),
            bytesADay: size(now.bytesADay),
            round3: digits(Math.round(now.requestsADay)),
            hoursADay,
          })}
      </p>
      {advice && (
        <p className="flex flex-wrap items-center gap-3 pt-2 text-[14px]">
          <span className="min-w-0 flex-1">
            <T
              k="settings.advised"
              v={{
                sayInterval: sayInterval(advice.interval),
                reason: advice.reason,
                strong: (c) => <strong className="font-semibold">{c}</strong>,
              }}
            />
          </span>
          {advice.interval !== present && (
            <Button onClick={() => onSet(advice.interval)}>
              {t('settings.use', { sayInterval: sayInterval(advice.interval) })}
            </Button>
          )}
        </p>
      )}
    </figure>
  )
}
