import { useEffect, useRef } from 'react'
import type { RetentionPreview } from '../../core/contract'

/** How many versions of each month would stay and go; the same numbers as a table for who cannot see them. */
export function RetentionChart({ months }: { months: RetentionPreview['months'] }) {
  const place = useRef<HTMLDivElement>(null)
  useEffect(() => {
    let gone = false
    const element = place.current!
    let erase = () => {}
    void import('plotly.js-basic-dist-min').then(({ default: plotly }) => {
      if (gone) return
      const style = getComputedStyle(document.documentElement)
      const colour = (name: string) => style.getPropertyValue(name).trim()
      const trace = (key: 'stay' | 'gone', name: string, paint: string) => ({
        type: 'bar',
        x: months.map(({ month }) => `${month}-01`),
        y: months.map((one) => one[key]),
        name,
        marker: { color: paint },
        hovertemplate: `%{x|%B %Y}: %{y} ${name}<extra></extra>`,
      })
      void plotly.newPlot(
        element,
        [trace('stay', 'stay', colour('--accent')), trace('gone', 'would go', colour('--ochre'))],
        {
          barmode: 'stack',
          height: 220,
          margin: { l: 36, r: 8, t: 8, b: 32 },
          paper_bgcolor: 'transparent',
          plot_bgcolor: 'transparent',
          font: { family: style.getPropertyValue('font-family') || 'sans-serif', size: 13, color: colour('--ink') },
          xaxis: { type: 'date', fixedrange: true, tickformat: '%b %Y', nticks: 8, gridcolor: 'transparent' },
          yaxis: { fixedrange: true, gridcolor: colour('--rule'), tickformat: ',d', rangemode: 'tozero' },
          showlegend: false,
          bargap: 0.3,
        },
        { displayModeBar: false, responsive: true },
      )
      // What is drawn later than this belongs to a later effect.
      erase = () => plotly.purge(element)
    })
    return () => {
      gone = true
      erase()
    }
  }, [months])
  return (
    <figure className="rounded-lg border bg-paper px-4 pb-2 pt-3">
      <figcaption className="flex gap-4 pb-1 font-semibold">
        Versions by the month they were saved in
        <span className="ml-auto flex gap-3 text-[13px] font-normal text-soft">
          <span className="flex items-center gap-1.5">
            <span className="size-2.5 rounded-sm bg-accent" /> stay
          </span>
          <span className="flex items-center gap-1.5">
            <span className="size-2.5 rounded-sm bg-ochre" /> would go
          </span>
        </span>
      </figcaption>
      <div ref={place} aria-hidden />
      <table className="sr-only">
        <tbody>
          {months.map(({ month, stay, gone }) => (
            <tr key={month}>
              <th scope="row">{month}</th>
              <td>{stay} stay</td>
              <td>{gone} would go</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  )
}
