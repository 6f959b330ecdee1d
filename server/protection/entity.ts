import { Column, Entity, PrimaryColumn } from 'typeorm'

/** How a person protects work of a kind, in a share, or of a folder or file: of one of the three. */
@Entity('own_protection')
export class OwnProtectionRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('text', { nullable: true }) kind!: 'document' | 'spreadsheet' | null
  @Column('uuid', { name: 'share_id', nullable: true }) shareId!: string | null
  @Column('uuid', { name: 'entry_id', nullable: true }) entryId!: string | null
  @Column('integer', { nullable: true }) interval!: number | null
  @Column('boolean', { nullable: true }) continuous!: boolean | null
}

/** How everybody's work in a share or a folder is protected, with bounds. */
@Entity('place_protection')
export class PlaceProtectionRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('uuid', { name: 'folder_id', nullable: true }) folderId!: string | null
  @Column('integer', { nullable: true }) interval!: number | null
  @Column('boolean', { nullable: true }) continuous!: boolean | null
  @Column('integer', { nullable: true }) least!: number | null
  @Column('integer', { nullable: true }) most!: number | null
}
