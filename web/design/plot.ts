// A chart by Plotly in the colours and letters of its surroundings. It is loaded when it is first shown.
import { type RefObject, useEffect, useRef } from 'react'

/** The value of a design token. */
export type Token = (name: string) => string
export interface Plot {
  traces: object[]
  layout: Record<string, unknown>
}

/**
 * @param make is asked again when one of `facts` is another; null draws nothing
 * @returns for the element that the chart is drawn into
 */
export function usePlot(
  make: (token: Token) => Plot | null,
  facts: readonly unknown[],
): RefObject<HTMLDivElement | null> {
  const place = useRef<HTMLDivElement>(null)
  useEffect(() => {
    let gone = false
    const element = place.current
    if (!element) return
    let erase = () => {}
    void import('plotly.js-basic-dist-min').then(({ default: plotly }) => {
      if (gone) return
      const style = getComputedStyle(document.documentElement)
      const token = (name: string) => style.getPropertyValue(name).trim()
      const plot = make(token)
      if (!plot) return
      void plotly.newPlot(
        element,
        plot.traces,
        {
          paper_bgcolor: 'transparent',
          plot_bgcolor: 'transparent',
          font: { family: style.getPropertyValue('font-family') || 'sans-serif', size: 13, color: token('--ink') },
          showlegend: false,
          ...plot.layout,
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
    // biome-ignore lint/correctness/useExhaustiveDependencies: whoever draws says what the drawing depends on
  }, facts)
  return place
}
