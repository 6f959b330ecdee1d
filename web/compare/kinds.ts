import type { PlaceKind } from '../../core/compare/findings'
import { t } from '../words/all'

/** What a change that is more than other words is called. */
export const kindOfChange: Partial<Record<PlaceKind, string>> = {
  moved: t('compare.moved'),
  split: t('compare.split'),
  joined: t('compare.joined'),
  look: t('compare.looks-different'),
  'row added': t('compare.row-added'),
  'row removed': t('compare.row-removed'),
  'row moved': t('compare.row-moved'),
  'column added': t('compare.column-added'),
  'column removed': t('compare.column-removed'),
  'table added': t('compare.table-added'),
  'table removed': t('compare.table-removed'),
  'image added': t('compare.image-added'),
  'image removed': t('compare.image-removed'),
  head: t('compare.head'),
  'head added': t('compare.head-added'),
  'head removed': t('compare.head-removed'),
  foot: t('compare.foot'),
  'foot added': t('compare.foot-added'),
  'foot removed': t('compare.foot-removed'),
  page: t('compare.page'),
  title: t('compare.title'),
  author: t('compare.author'),
  subject: t('compare.subject'),
  keywords: t('compare.keywords'),
  'image replaced': t('compare.image-replaced'),
  'image resized': t('compare.image-resized'),
  'image described': t('compare.image-described'),
  'comment added': t('compare.comment-added'),
  'comment removed': t('compare.comment-removed'),
  'comment changed': t('compare.comment-changed'),
  'comment answered': t('compare.comment-answered'),
  'note added': t('compare.note-added'),
  'note removed': t('compare.note-removed'),
  'note changed': t('compare.note-changed'),
}

/** A change in the list: a line of the text, or a cell. */
export interface ListedChange {
  id: string
  where: string
  /** What kind of change, when it is not plain. */
  what: string
  before: string
  now: string
}
