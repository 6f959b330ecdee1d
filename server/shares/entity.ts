import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { Defaults } from '../../core/contract'

@Entity('share')
export class ShareRow {
  @PrimaryColumn('uuid') id!: string
  @Column('text') name!: string
  @Column('text', { name: 'name_key' }) nameKey!: string
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
  @Column({ type: 'jsonb', default: {} }) defaults!: Defaults
  @Column('text', { default: '' }) description!: string
  /** Since when only its managers change anything in it. */
  @Column('timestamptz', { name: 'archived_at', nullable: true }) archivedAt!: Date | null
}
