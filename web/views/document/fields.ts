// What the fields of a page come to, as far as it is known where the page is shown.
import type { PageField } from '../../../core/content/fields'
import { t } from '../../words/all'
import { day } from '../../words/formats'

/** What a page knows of the file that it shows. */
export interface PageFacts {
  /** Its name, without its ending; null before it has one, and nothing where that is not known. */
  name?: string | null
  /** The number of the version that the work would be next. */
  version?: number
}
export const noFacts: PageFacts = {}

export const nameOfField = (field: PageField): string =>
  ({
    page: t('document.field-page'),
    pages: t('document.field-pages'),
    date: t('document.field-date'),
    name: t('document.field-name'),
    version: t('document.field-version'),
  })[field]

/** @returns its result on the first page; a sign for it where that is not known */
export function resultOfField(field: PageField, { name, version }: PageFacts): string {
  switch (field) {
    case 'page':
      return '1'
    case 'pages':
      return '#'
    case 'date':
      return day(new Date())
    case 'name':
      return name === undefined ? '#' : (name ?? t('document.no-name-yet'))
    case 'version':
      return String(version ?? '#')
  }
}
