import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { Defaults } from '../../core/contract'

@Entity('share')
export class ShareRow {
  @PrimaryColumn('uuid') id!: string
  @Column('text') name!: string
  @Column('text', { name: 'name_key' }) nameKey!: string
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
  @Column({ type: 'jsonb', default: {} }) defaults!: Defaults
}
