import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { PdfWay } from '../../core/contract'
import type { Sentence } from '../../core/words/said'

/** A list of a sheet's values, or a PDF, that is written anew with each version of its file. */
@Entity('side_list')
export class SideListRow {
  @PrimaryColumn('uuid') id!: string
  /** The file. */
  @Column('uuid', { name: 'source_id' }) sourceId!: string
  @Column('uuid', { name: 'list_id' }) listId!: string
  /** Null for the whole file as a PDF. */
  @Column('text', { nullable: true }) sheet!: string | null
  /** How its PDF is made. */
  @Column('jsonb', { nullable: true }) pdf!: PdfWay | null
  @Column('uuid', { name: 'asked_by' }) askedBy!: string
  /** The version of the file that was looked at last; that it is in the list says `fault`. */
  @Column('uuid', { name: 'seen_version_id', nullable: true }) seenVersionId!: string | null
  /** The number of the version that the list says. */
  @Column('integer', { name: 'written_number', nullable: true }) writtenNumber!: number | null
  /** The list's own version that says it: where its newest is another one, somebody changed the list. */
  @Column('uuid', { name: 'written_as', nullable: true }) writtenAs!: string | null
  /** Why it does not say the newest one. */
  @Column('jsonb', { nullable: true }) fault!: Sentence | null
}
