import { usePlot } from '../design/plot'

export interface Bar {
  label: string
  value: number
  /** A second stretch after the first. */
  rest?: number
}

/** Bars that lie, in the colours of the surroundings; the same numbers as a table for who cannot see them. */
export function Chart({ title, bars, names }: { title: string; bars: readonly Bar[]; names: readonly string[] }) {
  const place = usePlot(
    (token) => {
      const labels = bars.map(({ label }) => (label.length > 30 ? `…${label.slice(-29)}` : label)).reverse()
      const trace = (pick: (bar: Bar) => number, name: string, paint: string) => ({
        type: 'bar',
        orientation: 'h',
        y: labels,
        x: [...bars].reverse().map(pick),
        name,
        text: [...bars].reverse().map((bar) => (pick(bar) ? String(pick(bar)) : '')),
        textposition: 'inside',
        insidetextanchor: 'middle',
        // Lying text in lying bars, however short they are.
        textangle: 0,
        constraintext: 'none',
        marker: { color: paint },
        hovertemplate: `%{y}: %{x} ${name}<extra></extra>`,
      })
      return {
        traces: bars.some(({ rest }) => rest !== undefined)
          ? [
              trace(({ value }) => value, names[0]!, token('--accent')),
              trace(({ rest }) => rest ?? 0, names[1]!, token('--ochre')),
            ]
          : [trace(({ value }) => value, names[0]!, token('--ochre'))],
        layout: {
          barmode: 'stack',
          height: Math.max(3, bars.length) * 30 + 16,
          margin: { l: 8, r: 8, t: 4, b: 4 },
          xaxis: { visible: false, fixedrange: true },
          yaxis: { automargin: true, fixedrange: true, ticklen: 6, tickcolor: 'transparent' },
          bargap: 0.35,
        },
      }
    },
    [bars, names],
  )
  return (
    <figure className="min-w-0 rounded-lg border bg-paper px-4 pb-2 pt-3">
      <figcaption className="flex gap-4 pb-1 font-semibold">
        {title}
        {names.length > 1 && (
          <span className="ml-auto flex gap-3 text-[13px] font-normal text-soft">
            <span className="flex items-center gap-1.5">
              <span className="size-2.5 rounded-sm bg-accent" /> {names[0]}
            </span>
            <span className="flex items-center gap-1.5">
              <span className="size-2.5 rounded-sm bg-ochre" /> {names[1]}
            </span>
          </span>
        )}
      </figcaption>
      <div ref={place} aria-hidden />
      <table className="sr-only">
        <tbody>
          {bars.map(({ label, value, rest }) => (
            <tr key={label}>
              <th scope="row">{label}</th>
              <td>{`${value} ${names[0]}`}</td>
              {rest !== undefined && <td>{`${rest} ${names[1]}`}</td>}
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  )
}
