import { Column, Entity, PrimaryColumn } from 'typeorm'

@Entity('person')
export class PersonRow {
  @PrimaryColumn('uuid') id!: string
  /** What the person signs in with, in small letters. */
  @Column('text') handle!: string
  @Column('text') name!: string
  /** null until it was set with a code. */
  @Column('text', { name: 'password_hash', nullable: true }) passwordHash!: string | null
  @Column('boolean') administrator!: boolean
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
  /** Since when nobody signs in with it. */
  @Column('timestamptz', { name: 'closed_at', nullable: true }) closedAt!: Date | null
  @Column('timestamptz', { name: 'signed_in_at', nullable: true }) signedInAt!: Date | null
  /** Where mail reaches them. */
  @Column('text', { nullable: true }) mail!: string | null
  /** Of somebody who has no account: the link that they came by. */
  @Column('uuid', { name: 'guest_of', nullable: true }) guestOf!: string | null
}

/** A code that somebody sets their password with, once; whoever reads the table cannot. */
@Entity('person_code')
export class PersonCodeRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  /** SHA-256. */
  @Column('bytea', { name: 'code_hash' }) codeHash!: Buffer
  @Column('timestamptz') until!: Date
  @Column('uuid', { name: 'given_by', nullable: true }) givenBy!: string | null
  @Column('timestamptz', { name: 'given_at' }) givenAt!: Date
  /** The message that it went by. */
  @Column('uuid', { name: 'mail_id', nullable: true }) mailId!: string | null
}

/** What makes the codes of somebody's second factor. */
@Entity('second_factor')
export class SecondFactorRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  /** Locked with the server's key. */
  @Column('bytea') secret!: Buffer
  /** Since when it counts: from when a code of it was entered. */
  @Column('timestamptz', { name: 'confirmed_at', nullable: true }) confirmedAt!: Date | null
  /** The half minute whose code was used last. */
  @Column('bigint', { name: 'used_step', nullable: true }) usedStep!: string | null
}

/** A code to be used once in the place of the second factor. */
@Entity('recovery_code')
export class RecoveryCodeRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  /** SHA-256. */
  @PrimaryColumn('bytea', { name: 'code_hash' }) codeHash!: Buffer
}

@Entity('session')
export class SessionRow {
  /** SHA-256 of the cookie, so that reading the table signs nobody in. */
  @PrimaryColumn('bytea', { name: 'token_hash' }) tokenHash!: Buffer
  @Column('uuid') id!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
  @Column('timestamptz', { name: 'used_at' }) usedAt!: Date
  @Column('timestamptz', { name: 'expires_at' }) expiresAt!: Date
  /** What the browser called itself, and where it was. */
  @Column('text') browser!: string
  @Column('text') address!: string
}

/** A browser that a person signed in with, by a secret that stays in it: who guesses elsewhere keeps nobody out of it. */
@Entity('known_browser')
export class KnownBrowserRow {
  @PrimaryColumn('bytea', { name: 'token_hash' }) tokenHash!: Buffer
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  @Column('timestamptz') at!: Date
}

@Entity('person_settings')
export class SettingsRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  @Column('jsonb') settings!: object
}

/** Guesses at passwords, counted by `rate-limiter-flexible` under keys of its own. */
@Entity('guess_limit')
export class GuessLimitRow {
  @PrimaryColumn('varchar') key!: string
  @Column('integer') points!: number
  /** Milliseconds since 1970. */
  @Column('bigint', { nullable: true }) expire!: string | null
}
