// Automatic styles put into a part of a package (ISO/IEC 26300-1 §3.15.3).
import type { Splices } from '../opc/spans'
import { child } from '../opc/xml'
import type { OdfPart } from './package'

/** @param made their XML @param before the element of the part that they stand before, where it has none yet */
export function addStyles(splices: Splices, { root }: OdfPart, made: string, before: string): void {
  if (!made) return
  const own = child(root, 'office:automatic-styles')
  if (own?.at?.kind === 'open') return splices.insert(own.at.inner[1], made)
  const xml = `<office:automatic-styles>${made}</office:automatic-styles>`
  if (own) splices.replace(own.at!.start, own.at!.end, xml)
  else splices.insert(child(root, before)!.at!.start, xml)
}
