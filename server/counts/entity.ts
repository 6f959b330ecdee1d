import { Column, Entity, PrimaryColumn } from 'typeorm'

/** What a share or a person takes, as far as it was summed; the rest is in `storage_change`. Bytes. */
@Entity('storage_use')
export class StorageUseRow {
  @PrimaryColumn('uuid', { name: 'owner_id' }) ownerId!: string
  @Column('bigint') bytes!: string
}

/** What a version added or freed, kept by the database (server/sql/quotas.ts) until it is summed. */
@Entity('storage_change')
export class StorageChangeRow {
  @PrimaryColumn('bigint') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('bigint') bytes!: string
}

/** How many lie in a folder or at the top of a share, as far as it was summed; the rest is in `place_change`. */
@Entity('place_count')
export class PlaceCountRow {
  @PrimaryColumn('uuid', { name: 'place_id' }) placeId!: string
  @Column('integer') entries!: number
}

@Entity('place_change')
export class PlaceChangeRow {
  @PrimaryColumn('bigint') id!: string
  @Column('uuid', { name: 'place_id' }) placeId!: string
  @Column('integer') entries!: number
}
