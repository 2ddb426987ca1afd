// The chart library, loaded once when the first chart is drawn.
import url from 'plotly.js-basic-dist-min/plotly-basic.min.js?url'

export interface Plotly {
  react(el: HTMLElement, data: unknown[], layout: unknown, config: unknown): Promise<void>
  purge(el: HTMLElement): void
}

let loading: Promise<Plotly> | undefined

export const plotly = (): Promise<Plotly> =>
  (loading ??= new Promise((done, fail) => {
    const script = document.createElement('script')
    script.src = url
    script.onload = () => done((window as unknown as { Plotly: Plotly }).Plotly)
    script.onerror = () => fail(new Error('the chart library did not load'))
    document.head.append(script)
  }))
