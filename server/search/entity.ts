import { Column, Entity, PrimaryColumn } from 'typeorm'

/** A word of the index. */
@Entity('search_word')
export class SearchWordRow {
  @PrimaryColumn('integer') id!: number
  @Column('text') word!: string
  /** How many files have it. */
  @Column('integer') files!: number
}

/** A form that a word is found by: an ending of it (t), or it less one letter (s). */
@Entity('search_form')
export class SearchFormRow {
  @PrimaryColumn('char') kind!: 't' | 's'
  @PrimaryColumn('text') form!: string
  @PrimaryColumn('integer', { name: 'word_id' }) wordId!: number
}

/** A file as the index knows it. */
@Entity('search_file')
export class SearchFileRow {
  @PrimaryColumn('uuid', { name: 'file_id' }) fileId!: string
  @Column('integer') no!: number
  @Column('uuid', { name: 'version_id', nullable: true }) versionId!: string | null
  @Column('text') title!: string
  @Column('text', { array: true }) facets!: string[]
  @Column('integer', { array: true }) words!: number[]
  @Column('smallint', { array: true }) fields!: number[]
  @Column('text', { name: 'content_words', array: true }) contentWords!: string[]
  @Column('integer', { name: 'realm_no', nullable: true }) realmNo!: number | null
}

/** A word's file, where few files near it have the word. */
@Entity('search_posting')
export class SearchPostingRow {
  @PrimaryColumn('integer', { name: 'word_id' }) wordId!: number
  @PrimaryColumn('integer') no!: number
}

/** A word's files as a bitmap, where many that are near each other have it. */
@Entity('search_block')
export class SearchBlockRow {
  @PrimaryColumn('integer', { name: 'word_id' }) wordId!: number
  @PrimaryColumn('integer') block!: number
  @Column('bytea') files!: Buffer
}

/** How many files of a realm of rights have a word. */
@Entity('search_realm_word')
export class SearchRealmWordRow {
  @PrimaryColumn('integer', { name: 'word_id' }) wordId!: number
  @PrimaryColumn('integer', { name: 'realm_no' }) realmNo!: number
  @Column('integer') files!: number
}

/** A file that waits to be indexed; put in by the database. */
@Entity('search_queue')
export class SearchQueueRow {
  @PrimaryColumn('bigint') id!: string
  @Column('uuid', { name: 'file_id' }) fileId!: string
}
