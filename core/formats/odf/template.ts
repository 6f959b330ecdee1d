// Templates of the open standard are the same packages under another media type (ISO/IEC 26300-3 §3.3; -1 §2.2.4).
import { openZip, writeZip } from '../opc/zip'

const isTemplate = /^(application\/vnd\.oasis\.opendocument\.(?:text|spreadsheet))-template$/
const isPlain = /^application\/vnd\.oasis\.opendocument\.(?:text|spreadsheet)$/

/** The package as a template; the same bytes where it is one. A package that is written anew is none. */
export function asTemplate(bytes: Uint8Array): Uint8Array {
  const container = openZip(bytes)
  const decoder = new TextDecoder()
  const type = decoder.decode(container.read('mimetype') ?? new Uint8Array())
  if (isTemplate.test(type) || !isPlain.test(type)) return bytes
  return writeZip(
    container.names.map((name): [string, string | Uint8Array] => {
      const part = container.read(name)!
      if (name === 'mimetype') return [name, `${type}-template`]
      if (name === 'META-INF/manifest.xml')
        return [name, decoder.decode(part).replace(`"${type}"`, `"${type}-template"`)]
      return [name, part]
    }),
  )
}
