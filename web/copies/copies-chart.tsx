import type { Copies, CopySite } from '../../core/contract'
import { usePlot } from '../design/plot'
import { t } from '../words/all'
import { dayOfYear, moment, tenths, timeOf } from '../words/formats'

const measures = ['covered', 'verified', 'age'] as const
type Measure = (typeof measures)[number]
const headOf: Record<Measure, string> = {
  covered: t('sites.chart-covered'),
  verified: t('sites.chart-verified'),
  age: t('sites.chart-age'),
}
/** Places are told apart by how their lines are drawn, too. */
const strokes = ['solid', 'dot', 'dash', 'longdash', 'dashdot'] as const
const inkOf = (token: (name: string) => string, index: number) =>
  token(['--accent', '--plum', '--ochre', '--ink'][index % 4]!)

const inWords = (measure: Measure, value: number): string =>
  measure === 'age' ? t('sites.hours', { hours: tenths(value) }) : `${tenths(value * 100)} %`

/** How well each place covered what there is, over time; the newest figures as a table for who cannot see it. */
export function CopiesChart({ sites, history }: { sites: readonly CopySite[]; history: Copies['history'] }) {
  const known = sites.filter(({ id }) => history.some(({ siteId }) => siteId === id))
  return (
    <section className="mt-10" aria-label={t('sites.over-time')}>
      <h2 className="flex flex-wrap items-baseline gap-x-6 gap-y-1 text-[17px] font-semibold">
        {t('sites.over-time')}
        <span className="flex flex-wrap gap-4 text-[13px] font-normal text-soft">
          {known.map(({ id, name }, index) => (
            <span key={id} className="flex items-center gap-1.5">
              <svg width="22" height="4" aria-hidden>
                <line
                  x1="0"
                  x2="22"
                  y1="2"
                  y2="2"
                  strokeWidth="2.5"
                  strokeDasharray={[undefined, '2 3', '6 3', '10 3', '6 3 2 3'][index % 5]}
                  stroke={['var(--accent)', 'var(--plum)', 'var(--ochre)', 'var(--ink)'][index % 4]}
                />
              </svg>
              {name}
            </span>
          ))}
        </span>
      </h2>
      {known.length === 0 ? (
        <p className="pt-2 text-soft">{t('sites.chart-begins')}</p>
      ) : (
        <>
          <div className="mt-3 grid gap-5 lg:grid-cols-3" aria-hidden>
            {measures.map((measure) => (
              <Line key={measure} measure={measure} sites={known} history={history} />
            ))}
          </div>
          <table className="sr-only">
            <thead>
              <tr>
                <td />
                {measures.map((measure) => (
                  <th key={measure} scope="col">
                    {headOf[measure]}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {known.map(({ id, name }) => {
                const last = history.findLast(({ siteId }) => siteId === id)!
                return (
                  <tr key={id}>
                    <th scope="row">
                      {name}, {moment(last.at)}
                    </th>
                    {measures.map((measure) => (
                      <td key={measure}>{inWords(measure, last[measure])}</td>
                    ))}
                  </tr>
                )
              })}
            </tbody>
          </table>
        </>
      )}
    </section>
  )
}

/** Three moments of a span, said as whoever reads says them; the first one is not at the very edge. */
function ticksBetween(from: number, to: number): { tickvals: string[]; ticktext: string[] } {
  const at = [0.12, 0.5, 0.88].map((part) => new Date(from + (to - from) * part))
  const says = to - from < 3 * 86_400_000 ? timeOf : dayOfYear
  return { tickvals: at.map((one) => one.toISOString()), ticktext: at.map((one) => says(one)) }
}

function Line({
  measure,
  sites,
  history,
}: {
  measure: Measure
  sites: readonly CopySite[]
  history: Copies['history']
}) {
  const place = usePlot(
    (token) => {
      const times = history.map(({ at }) => Date.parse(at))
      const [first, last] = [Math.min(...times), Math.max(...times)]
      // A single hour would be no line; the scale is at least a day.
      const from = Math.min(first, last - 86_400_000)
      const inDays = measure === 'age' && history.some(({ age }) => age > 72)
      const unit = measure !== 'age' ? '%' : inDays ? t('sites.day-sign') : t('sites.hour-sign')
      return {
        traces: sites.map(({ id, name }, index) => {
          const own = history.filter(({ siteId }) => siteId === id)
          return {
            type: 'scatter',
            mode: own.length < 3 ? 'lines+markers' : 'lines',
            x: own.map(({ at }) => at),
            y: own.map((one) => (measure !== 'age' ? one[measure] * 100 : inDays ? one.age / 24 : one.age)),
            name,
            line: { color: inkOf(token, index), width: 2, dash: strokes[index % strokes.length], shape: 'hv' },
            text: own.map(({ at }) => moment(at)),
            hovertemplate: `%{text}: %{y:.0f} ${unit}<extra>${name.replaceAll('<', '‹')}</extra>`,
          }
        }),
        layout: {
          height: 164,
          margin: { l: 52, r: 10, t: 6, b: 28 },
          xaxis: {
            type: 'date',
            fixedrange: true,
            range: [new Date(from).toISOString(), new Date(last + (last - from) * 0.02).toISOString()],
            ...ticksBetween(from, last),
            gridcolor: 'transparent',
            ticks: 'outside',
            ticklen: 5,
            tickcolor: 'transparent',
          },
          yaxis: {
            fixedrange: true,
            gridcolor: token('--rule'),
            rangemode: 'tozero',
            nticks: 4,
            ...(measure === 'age'
              ? { ticksuffix: ` ${unit}` }
              : { range: [0, 104], tickvals: [0, 50, 100], ticktext: ['0 %', '50 %', '100 %'] }),
          },
        },
      }
    },
    [history, sites.map(({ id, name }) => id + name).join()],
  )
  return (
    <figure className="min-w-0 rounded-lg border bg-paper px-3 pb-1 pt-2.5">
      <figcaption className="pb-1 text-[13px] text-soft">{headOf[measure]}</figcaption>
      <div ref={place} />
    </figure>
  )
}
