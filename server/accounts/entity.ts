import { Column, Entity, PrimaryColumn } from 'typeorm'

@Entity('person')
export class PersonRow {
  @PrimaryColumn('uuid') id!: string
  /** What the person signs in with, in small letters. */
  @Column('text') handle!: string
  @Column('text') name!: string
  @Column('text', { name: 'password_hash' }) passwordHash!: string
  @Column('boolean') administrator!: boolean
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
}

@Entity('session')
export class SessionRow {
  /** SHA-256 of the cookie, so that reading the table signs nobody in. */
  @PrimaryColumn('bytea', { name: 'token_hash' }) tokenHash!: Buffer
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
  @Column('timestamptz', { name: 'expires_at' }) expiresAt!: Date
}

@Entity('sign_in_failure')
export class SignInFailureRow {
  @PrimaryColumn('uuid') id!: string
  @Column('text') handle!: string
  @Column('text') address!: string
  @Column('timestamptz') at!: Date
}

@Entity('person_settings')
export class SettingsRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  @Column('jsonb') settings!: object
}
