import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { Role } from '../../core/rights'

/** People who are granted something together. */
@Entity('person_group')
export class GroupRow {
  @PrimaryColumn('uuid') id!: string
  @Column('text') name!: string
  @Column('text', { name: 'name_key' }) nameKey!: string
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
}

/** A person, or another group, in a group. */
@Entity('group_member')
export class GroupMemberRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'group_id' }) groupId!: string
  @Column('uuid', { name: 'person_id', nullable: true }) personId!: string | null
  @Column('uuid', { name: 'member_group_id', nullable: true }) memberGroupId!: string | null
}

/** A share, or a folder or file that has grants of its own. */
@Entity('realm')
export class RealmRow {
  /** The share's, or the folder's or file's. */
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('uuid', { name: 'entry_id', nullable: true }) entryId!: string | null
  /** Given by the database; the index of words knows the realm by it. */
  @Column({ type: 'integer', insert: false, update: false }) no!: number
  /** Lets in nobody from above but those who manage there. */
  @Column('boolean', { default: false }) closed!: boolean
}

/** A role that a person or a group has in a realm. */
@Entity('access_grant')
export class GrantRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'realm_id' }) realmId!: string
  @Column('uuid', { name: 'person_id', nullable: true }) personId!: string | null
  @Column('uuid', { name: 'group_id', nullable: true }) groupId!: string | null
  @Column('text') role!: Role
  /** Made from the role by the database. */
  @Column({ type: 'smallint', insert: false, update: false }) rank!: number
  @Column('timestamptz', { nullable: true }) until!: Date | null
  @Column('uuid', { name: 'given_by', nullable: true }) givenBy!: string | null
  @Column('timestamptz', { name: 'given_at' }) givenAt!: Date
  /** What was said when it was given. */
  @Column('text', { default: '' }) words!: string
}

/** Somebody has looked at what they were given. */
@Entity('grant_seen')
export class GrantSeenRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  @PrimaryColumn('uuid', { name: 'grant_id' }) grantId!: string
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
}

/** Somebody asks for more than they may do in a share, folder or file. */
@Entity('right_request')
export class RightRequestRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('uuid', { name: 'entry_id', nullable: true }) entryId!: string | null
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('text') role!: 'edit' | 'manage'
  @Column('text') words!: string
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
  @Column('timestamptz', { name: 'answered_at', nullable: true }) answeredAt!: Date | null
  @Column('uuid', { name: 'answered_by', nullable: true }) answeredBy!: string | null
  @Column('boolean', { nullable: true }) given!: boolean | null
  @Column('timestamptz', { name: 'seen_at', nullable: true }) seenAt!: Date | null
}

/** What holds in a realm, its own and what it lets in from above; made by the database (server/sql/rights.ts). */
@Entity('realm_right')
export class RealmRightRow {
  @PrimaryColumn('uuid', { name: 'realm_id' }) realmId!: string
  @PrimaryColumn('uuid', { name: 'grant_id' }) grantId!: string
  @Column('uuid', { name: 'subject_id' }) subjectId!: string
  @Column('smallint') rank!: number
  @Column('timestamptz', { nullable: true }) until!: Date | null
}
