import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { AuditEntry } from '../../core/contract'

/** Something done to accounts, rights or holds, or that left its share. Rows are only ever added. */
@Entity('audit_log')
export class AuditRow {
  @PrimaryColumn('uuid') id!: string
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
  @Column('uuid', { name: 'person_id', nullable: true }) personId!: string | null
  @Column('uuid', { name: 'share_id', nullable: true }) shareId!: string | null
  @Column('text') what!: AuditEntry['what']
  @Column('jsonb') facts!: Record<string, unknown>
}
