// Fields that a page tells by itself (ISO/IEC 26300-1 §7.3), as the edges of pages have them.
import type { PageField } from '../../content/fields'
import type { XmlElement } from '../opc/xml'

const written: Record<PageField, string> = {
  page: '<text:page-number text:select-page="current">1</text:page-number>',
  pages: '<text:page-count>1</text:page-count>',
  date: '<text:date/>',
  name: '<text:file-name text:display="name-and-extension"/>',
  version: '<text:editing-cycles/>',
}
export const fieldXml = (field: PageField): string => written[field]

/** What a field tells; null for one that only its file knows the result of. */
export function fieldIn({ name, attributes }: XmlElement): PageField | null {
  switch (name) {
    case 'text:page-number': {
      const isHere = (attributes['text:select-page'] ?? 'current') === 'current'
      return isHere && !Number(attributes['text:page-adjust'] ?? 0) ? 'page' : null
    }
    case 'text:page-count':
      return 'pages'
    case 'text:date':
      return attributes['text:fixed'] === 'true' || 'text:date-adjust' in attributes ? null : 'date'
    case 'text:file-name':
      return /^(?:name|name-and-extension)$/.test(attributes['text:display'] ?? '') ? 'name' : null
    case 'text:editing-cycles':
      return 'version'
    default:
      return null
  }
}
