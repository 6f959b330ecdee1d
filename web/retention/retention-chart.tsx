import type { RetentionPreview } from '../../core/contract'
import { usePlot } from '../design/plot'
import { T, t } from '../words/all'

/** How many versions of each month would stay and go; the same numbers as a table for who cannot see them. */
export function RetentionChart({ months }: { months: RetentionPreview['months'] }) {
  const place = usePlot(
    (token) => {
      const trace = (key: 'stay' | 'gone', name: string, paint: string) => ({
        type: 'bar',
        x: months.map(({ month }) => `${month}-01`),
        y: months.map((one) => one[key]),
        name,
        marker: { color: paint },
        hovertemplate: `%{x|%B %Y}: %{y} ${name}<extra></extra>`,
      })
      return {
        traces: [
          trace('stay', 'stay', token('--accent')),
          trace('gone', t('retention.would-be-removed'), token('--ochre')),
        ],
        layout: {
          barmode: 'stack',
          height: 220,
          margin: { l: 36, r: 8, t: 8, b: 32 },
          xaxis: { type: 'date', fixedrange: true, tickformat: '%b %Y', nticks: 8, gridcolor: 'transparent' },
          yaxis: { fixedrange: true, gridcolor: token('--rule'), tickformat: ',d', rangemode: 'tozero' },
          bargap: 0.3,
        },
      }
    },
    [months],
  )
  return (
    <figure className="rounded-lg border bg-paper px-4 pb-2 pt-3">
      <figcaption className="flex gap-4 pb-1 font-semibold">
        <T
          k="retention.versions-by-the-month-they-were-saved"
          v={{
            block: (
              <span className="ml-auto flex gap-3 text-[13px] font-normal text-soft">
                <span className="flex items-center gap-1.5">
                  <span className="size-2.5 rounded-sm bg-accent" /> {t('retention.stay')}
                </span>
                <span className="flex items-center gap-1.5">
                  <span className="size-2.5 rounded-sm bg-ochre" /> {t('retention.would-be-removed')}
                </span>
              </span>
            ),
          }}
        />
      </figcaption>
      <div ref={place} aria-hidden />
      <table className="sr-only">
        <tbody>
          {months.map(({ month, stay, gone }) => (
            <tr key={month}>
              <th scope="row">{month}</th>
              <td>{t('retention.stay-2', { stay })}</td>
              <td>{t('retention.would-be-removed-2', { gone })}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  )
}
