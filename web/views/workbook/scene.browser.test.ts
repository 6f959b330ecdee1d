// Cells on a real canvas: what is drawn into one leaves the next one its colours, and lines end where they do in any size.
import { expect, test } from 'vitest'
import { noLooks } from '../../../core/content/looks'
import { sizes } from '../size'
import { canvasMeasure, gridFont, wrapped } from './fitting'
import { type CellText, cellDrawer, sceneOf } from './scene'

const colours = {
  textDark: '#101010',
  accentColor: '#0f6a5f',
  accentFg: '#ffffff',
  bgCell: '#fffefa',
  borderColor: '#d0c8b8',
}
const area = { top: 0, left: 0, bottom: 5, right: 1 }
const filter = { area, columns: { 0: { by: 'values', values: ['LK07'], blank: false } } } as never

/** Draws one cell as the grid would, and gives the canvas. */
function drawn(size: number, row: number, text: CellText, [width, height]: readonly [number, number]) {
  const canvas = document.createElement('canvas')
  canvas.width = width
  canvas.height = height
  const ctx = canvas.getContext('2d')!
  ctx.fillStyle = colours.textDark
  const scene = sceneOf(noLooks, false, undefined, filter, size)
  const draw = cellDrawer(
    scene,
    () => undefined,
    () => width,
    () => text,
  )
  const font = `${14 * size}px sans-serif`
  ctx.font = font
  const theme = { ...colours, baseFontFull: font, cellHorizontalPadding: 7 * size }
  draw({ ctx, theme, rect: { x: 0, y: 0, width, height }, col: 0, row } as never, () => {})
  return ctx
}

test('a heading with its sign leaves the colour that was set, so that what is below it can be read', () => {
  for (const size of sizes) {
    const ctx = drawn(size, 0, { text: '', align: 'left', wrap: false }, [Math.round(96 * size), Math.round(26 * size)])
    expect(ctx.fillStyle).toBe(colours.textDark)
    // And the sign is there, on its ground, as large as the rest.
    const [red, green, blue] = ctx.getImageData(Math.round((96 - 22) * size), Math.round(6 * size), 1, 1).data
    expect([red, green, blue]).toEqual([0x0f, 0x6a, 0x5f])
  }
})

test('a text that is wrapped has the lines of its usual size in every other, and they are all in its cell', () => {
  const text = 'Signs, notices and the boards at the swing bridge'
  const wide = 96 - 14
  const measure = canvasMeasure(gridFont)
  expect(wrapped(text, wide, (part) => measure(part, undefined)).length).toBeGreaterThan(2)
  const bands = sizes.map((size) => {
    const [width, height] = [Math.round(96 * size), Math.round(150 * size)]
    const { data } = drawn(size, 3, { text, align: 'left', wrap: true }, [width, height]).getImageData(
      0,
      0,
      width,
      height,
    )
    /** Rows of pixels with ink of the text, as stretches: one for each line. */
    const inked = Array.from({ length: height - 2 }, (_, y) =>
      Array.from({ length: width - 2 }, (_, x) => data[(y * width + x) * 4 + 3]! > 60).some(Boolean),
    )
    return inked.filter((ink, y) => ink && !inked[y - 1]).length
  })
  // Below nine tenths the ink of two lines may touch.
  const large = bands.slice(sizes.indexOf(0.9))
  expect(new Set(large).size).toBe(1)
  expect(large[0]).toBeGreaterThan(2)
})
