import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { Drill } from '../../core/contract'

/** A recovery drill that somebody ran on a device. */
@Entity('drill')
export class DrillRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('uuid', { name: 'device_id' }) deviceId!: string
  @Column('text', { name: 'device_name' }) deviceName!: string
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
  @Column('jsonb') report!: Drill['report']
}
