import { Column, Entity, PrimaryColumn } from 'typeorm'

/** A version that work is begun from, by a name. */
@Entity('template')
export class TemplateEntity {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('text') name!: string
  @Column('text', { name: 'name_key' }) nameKey!: string
  @Column('uuid', { name: 'version_id' }) versionId!: string
  @Column('uuid', { name: 'convention_id', nullable: true }) conventionId!: string | null
  @Column('jsonb') presets!: Record<string, string>
  @Column('uuid', { name: 'created_by' }) createdBy!: string
  @Column('timestamptz', { name: 'created_at', default: () => 'clock_timestamp()' }) createdAt!: Date
  @Column('timestamptz', { name: 'removed_at', nullable: true }) removedAt!: Date | null
}
