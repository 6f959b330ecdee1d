// Pictures that a package is given: each once, in its list of parts.
import { dataUrlBytes, extensionOf } from '../docx/write'
import { escapeAttribute } from '../opc/xml'
import type { Container } from '../opc/zip'

export class Pictures {
  private readonly made = new Map<string, { href: string; type: string; bytes: Uint8Array }>()

  /** @param known where the package has which picture, by its data URL */
  constructor(
    private readonly container: Container,
    private readonly known: ReadonlyMap<string, string>,
  ) {}

  /** Where a picture is in the package. @param src a data URL */
  hrefOf(src: string): string {
    const there = this.known.get(src) ?? this.made.get(src)?.href
    if (there) return there
    const [type, bytes] = dataUrlBytes(src)
    const names = new Set([...this.container.names, ...[...this.made.values()].map(({ href }) => href)])
    let number = this.made.size
    let href: string
    do href = `Pictures/image${++number}.${extensionOf[type] ?? 'png'}`
    while (names.has(href))
    this.made.set(src, { href, type, bytes })
    return href
  }

  /** What is to be put into the package. */
  addTo(changes: Map<string, Uint8Array | null>): void {
    if (!this.made.size) return
    const manifest = this.container.read('META-INF/manifest.xml')
    let entries = ''
    for (const { href, type, bytes } of this.made.values()) {
      changes.set(href, bytes)
      entries += ` <manifest:file-entry manifest:full-path="${escapeAttribute(href)}" manifest:media-type="${type}"/>\n`
    }
    const text = manifest ? new TextDecoder().decode(manifest) : ''
    // A list of parts under another prefix is left as it is: readers find a picture by its address.
    if (text.includes('</manifest:manifest>'))
      changes.set(
        'META-INF/manifest.xml',
        new TextEncoder().encode(text.replace('</manifest:manifest>', () => `${entries}</manifest:manifest>`)),
      )
  }
}
