import { expect, test } from 'vitest'
import { standingAlone } from './alone'
import { elements, parseXml, type XmlElement } from './xml'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const parsed = (xml: string) => parseXml(new TextEncoder().encode(xml), 'part')
const first = (root: XmlElement) => [...elements(root)][0]!
const asIs = (_name: string, value: string) => value
const alone = (xml: string) => {
  const root = parsed(xml)
  return standingAlone(first(root), root, asIs)
}

test('it declares what it uses, in one order, whatever the file calls it', () => {
  const usual = alone(
    `<w:r xmlns:w="${w}" xmlns:v="urn:v" xmlns:x="urn:x"><w:p w:a="1&lt;"><v:s/>a &amp; b</w:p></w:r>`,
  )
  expect(usual).toBe(`<w:p xmlns:v="urn:v" xmlns:w="${w}" w:a="1&lt;"><v:s/>a &amp; b</w:p>`)
  expect(alone(`<n:r xmlns:n="${w}" xmlns:v="urn:v"><n:p n:a="1&lt;"><v:s/>a &amp; b</n:p></n:r>`)).toBe(usual)
  expect(alone(`<r xmlns="${w}" xmlns:v="urn:v"><p xmlns:w="${w}" w:a="1&lt;"><v:s/>a &amp; b</p></r>`)).toBe(usual)
})
test('what was made to stand alone stays as it is', () => {
  const once = alone(`<w:r xmlns:w="${w}"><w:p><m:o xmlns:m="urn:m" m:b="x"/><c xmlns="urn:c"><d/></c></w:p></w:r>`)!
  const root = parsed(once)
  expect(standingAlone(root, root, asIs)).toBe(once)
})
test('a prefix that is not declared, or means two things, is told', () => {
  expect(alone(`<w:r xmlns:w="${w}"><w:p><q:s/></w:p></w:r>`)).toBeNull()
  expect(alone(`<w:r xmlns:w="${w}"><w:p><q:s xmlns:q="urn:1"/><q:s xmlns:q="urn:2"/></w:p></w:r>`)).toBeNull()
})
test('what means something only in its file is left out, or is another value', () => {
  const root = parsed(`<w:r xmlns:w="${w}"><w:p w:rsid="7" w:id="3"/></w:r>`)
  const xml = standingAlone(first(root), root, (name, value) => (name === 'w:rsid' ? null : `${value}0`))
  expect(xml).toBe(`<w:p xmlns:w="${w}" w:id="30"/>`)
})
