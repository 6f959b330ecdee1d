// The grid's colours, taken from the design's own, light and dark.
import type { Theme } from '@glideapps/glide-data-grid'
import { useEffect, useMemo, useState } from 'react'
import type { referenceColours } from './formula-field'

/** @param size how large the sheet is shown */
export function useGridTheme(size: number): Partial<Theme> & {
  markedCell: string
  toldCell: string
  followingText: string
  keptText: string
  /** What a formula names, by the names of the colours. */
  named: Record<(typeof referenceColours)[number], string>
} {
  const [dark, setDark] = useState(() => document.documentElement.classList.contains('dark'))
  useEffect(() => {
    const watch = new MutationObserver(() => setDark(document.documentElement.classList.contains('dark')))
    watch.observe(document.documentElement, { attributes: true, attributeFilter: ['class'] })
    return () => watch.disconnect()
  }, [])
  return useMemo(() => {
    const style = getComputedStyle(document.documentElement)
    const token = (name: string) => style.getPropertyValue(`--${name}`).trim()
    /** Seen through: the grid draws an area so, and its edge in full. */
    const thin = (name: string) => {
      const [red, green, blue] = [1, 3, 5].map((at) => Number.parseInt(token(name).slice(at, at + 2), 16))
      return `rgba(${red}, ${green}, ${blue}, 0.16)`
    }
    return {
      markedCell: token('ochre-wash'),
      followingText: token('ochre'),
      keptText: token('soft'),
      named: { plum: thin('plum'), accent: thin('accent'), ochre: thin('ochre'), rust: thin('rust') },
      toldCell: dark ? '#6b5420' : '#eccf8a',
      accentColor: token('accent'),
      accentFg: token('on-accent'),
      accentLight: dark ? 'rgba(116,203,185,0.16)' : 'rgba(15,106,95,0.10)',
      textDark: token('ink'),
      textMedium: token('soft'),
      textLight: token('soft'),
      textHeader: token('soft'),
      textHeaderSelected: token('on-accent'),
      bgCell: token('sheet'),
      bgCellMedium: token('paper'),
      bgHeader: token('paper'),
      bgHeaderHasFocus: token('wash'),
      bgHeaderHovered: token('wash'),
      borderColor: token('rule'),
      horizontalBorderColor: token('rule'),
      drilldownBorder: token('rule'),
      fontFamily: 'Atkinson Hyperlegible Next Variable',
      baseFontStyle: `${14 * size}px`,
      headerFontStyle: `${13 * size}px`,
      markerFontStyle: `${12 * size}px`,
      editorFontSize: `${14 * size}px`,
      cellHorizontalPadding: 7 * size,
      cellVerticalPadding: 3 * size,
      bgIconHeader: token('soft'),
      fgIconHeader: token('paper'),
      linkColor: token('accent'),
    }
  }, [dark, size])
}

/** Dark or light text, whichever reads better on a fill (WCAG 2.2 relative luminance). */
export function contrasting(fill: string): string {
  const channel = (at: number) => {
    const value = Number.parseInt(fill.slice(at, at + 2), 16) / 255
    return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4
  }
  return 0.2126 * channel(1) + 0.7152 * channel(3) + 0.0722 * channel(5) > 0.2 ? '#1d2a2a' : '#fbf9f3'
}
