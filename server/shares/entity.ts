import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { Defaults } from '../../core/contract'

@Entity('share')
export class ShareRow {
  @PrimaryColumn('uuid') id!: string
  @Column('text') name!: string
  @Column('text', { name: 'name_key' }) nameKey!: string
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
  /** Given by the database; the index of words knows the share by it. */
  @Column({ type: 'integer', insert: false, update: false }) no!: number
  @Column({ type: 'jsonb', default: {} }) defaults!: Defaults
}

@Entity('membership')
export class MembershipRow {
  @PrimaryColumn('uuid', { name: 'share_id' }) shareId!: string
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  @Column('text') role!: 'view' | 'edit' | 'manage'
}
