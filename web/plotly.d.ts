declare module 'plotly.js-basic-dist-min' {
  interface Plotly {
    newPlot(element: HTMLElement, data: object[], layout?: object, config?: object): Promise<unknown>
    purge(element: HTMLElement): void
  }
  const plotly: Plotly
  export default plotly
}
