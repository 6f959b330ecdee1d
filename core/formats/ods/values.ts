// Values of cells as attributes (ISO/IEC 26300-1 §19.374 to §19.385), both ways.

import { errors, isDateFormat } from '../../content/entry'
import { type CellValue, isError } from '../../content/workbook'
import type { XmlElement } from '../opc/xml'

/** Days since 1899-12-30 of a date, or of a date and a time (ISO 8601); null for none. */
export function serialOf(text: string): number | null {
  const found = /^(-?\d{4,5})-(\d\d)-(\d\d)(?:T(\d\d):(\d\d)(?::(\d\d(?:\.\d+)?))?)?/.exec(text)
  if (!found) return null
  const [, year, month, day, hours = '0', minutes = '0', seconds = '0'] = found
  const at = new Date(0)
  at.setUTCFullYear(Number(year), Number(month) - 1, Number(day))
  const part = (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) / 86_400
  return at.getTime() / 86_400_000 + 25_569 + part
}
/** Days of a duration (ISO 8601); null for none. */
export function daysOf(text: string): number | null {
  const found = /^(-?)P(?:(\d+)D)?T?(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:[.,]\d+)?)S)?$/.exec(text)
  if (!found) return null
  const [, sign, days = '0', hours = '0', minutes = '0', seconds = '0'] = found
  const all = Number(days) * 86_400 + Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds.replace(',', '.'))
  return ((sign ? -1 : 1) * all) / 86_400
}
/** @param text what the cell shows */
export function valueOf({ attributes }: XmlElement, text: () => string): CellValue | undefined {
  const said = attributes['office:value-type'] ?? attributes['calcext:value-type']
  if (attributes['calcext:value-type'] === 'error') return errorOf(text())
  switch (said) {
    case undefined:
      return text() || undefined
    case 'float':
    case 'percentage':
    case 'currency': {
      const value = Number(attributes['office:value'])
      return Number.isFinite(value) ? value : undefined
    }
    case 'boolean':
      return attributes['office:boolean-value'] === 'true'
    case 'date':
      return serialOf(attributes['office:date-value'] ?? '') ?? text()
    case 'time':
      return daysOf(attributes['office:time-value'] ?? '') ?? text()
    default: {
      const string = attributes['office:string-value'] ?? text()
      return attributes['table:formula'] !== undefined && errors.has(string) ? { error: string } : string
    }
  }
}
/** Errors that other programs number are values that are wrong. */
const errorOf = (text: string): CellValue => ({
  error: errors.has(text) ? text : /^Err:/.test(text) ? '#VALUE!' : '#N/A',
})

const two = (value: number) => String(value).padStart(2, '0')
/** A date and, where there is one, its time; null for what is no date to the thousandth of a second. */
function dateText(serial: number): string | null {
  const milliseconds = Math.round((serial - 25_569) * 86_400_000)
  const at = new Date(milliseconds)
  if (Number.isNaN(at.getTime()) || at.getUTCFullYear() < 1 || at.getUTCFullYear() > 9999) return null
  const [day, time] = at.toISOString().slice(0, -1).split('T') as [string, string]
  const text = time === '00:00:00.000' ? day : `${day}T${time.replace(/\.000$/, '')}`
  return serialOf(text) === serial ? text : null
}
function durationText(days: number): string | null {
  const all = Math.round(Math.abs(days) * 86_400_000) / 1000
  const seconds = all % 60
  const text = `${days < 0 ? '-' : ''}PT${two(Math.floor(all / 3600))}H${two(Math.floor((all % 3600) / 60))}M${two(Math.floor(seconds))}${
    seconds % 1 ? `.${String(Math.round((seconds % 1) * 1000)).padStart(3, '0')}` : ''
  }S`
  return daysOf(text) === days ? text : null
}

/** The attributes that say a value. @param format of the cell, which makes numbers dates, shares and money */
export function attributesOf(value: CellValue | undefined, format: string | undefined): Record<string, string> {
  if (value === undefined) return {}
  // The standard has no type for errors: they are what the cell says.
  if (isError(value)) return { 'office:value-type': 'string', 'office:string-value': value.error }
  if (typeof value === 'string') return { 'office:value-type': 'string' }
  if (typeof value === 'boolean') return { 'office:value-type': 'boolean', 'office:boolean-value': String(value) }
  if (isDateFormat(format)) {
    const isTime = !/[yd]|m{3}/i.test(format!.replace(/"[^"]*"|\\.|\[[^hms\]][^\]]*\]/gi, '')) && /[hs]/i.test(format!)
    const text = isTime ? durationText(value) : dateText(value)
    if (text !== null)
      return isTime
        ? { 'office:value-type': 'time', 'office:time-value': text }
        : { 'office:value-type': 'date', 'office:date-value': text }
  }
  const kind = format?.includes('%') ? 'percentage' : /\[\$/.test(format ?? '') ? 'currency' : 'float'
  return { 'office:value-type': kind, 'office:value': String(value) }
}
/** Attributes that a value is said by. */
export const valueAttributes: ReadonlySet<string> = new Set([
  'office:value-type',
  'office:value',
  'office:date-value',
  'office:time-value',
  'office:boolean-value',
  'office:string-value',
  'office:currency',
  'calcext:value-type',
  'table:formula',
])
