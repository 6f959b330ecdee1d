import { Column, Entity, PrimaryColumn } from 'typeorm'

@Entity('share')
export class ShareRow {
  @PrimaryColumn('uuid') id!: string
  @Column('text') name!: string
  @Column('text', { name: 'name_key' }) nameKey!: string
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
}

@Entity('membership')
export class MembershipRow {
  @PrimaryColumn('uuid', { name: 'share_id' }) shareId!: string
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  @Column('text') role!: 'view' | 'edit' | 'manage'
}
