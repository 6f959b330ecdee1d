// Who may do what, and why. A share is a realm of rights, and so is every folder or file that has grants of its own;
// everything else has the rights of the nearest realm above it. A realm adds to what holds above it; a closed one lets
// nobody in from above but those who manage there. The twin of this rule in SQL is server/sql/rights.ts; a test holds
// the two together.

export const roles = ['view', 'edit', 'manage'] as const
export type Role = (typeof roles)[number]

/** How much a role allows: each one all that the ones below it do. */
export const rankOf: Record<Role, number> = { view: 1, edit: 2, manage: 3 }
export const allows = (role: Role | null | undefined, needed: Role): boolean => !!role && rankOf[role] >= rankOf[needed]

/** A share, or a folder or file with grants of its own. */
export interface Realm {
  id: string
  /** The nearest realm above; null for a share. */
  above: string | null
  /** Only who was granted something here, and who manages above, may come in. */
  closed: boolean
}

export interface Grant {
  id: string
  realmId: string
  /** A person or a group. */
  subjectId: string
  role: Role
  /** Milliseconds since 1970, UTC; null for ever. */
  until: number | null
}

/** A person, or a group, that belongs to a group. */
export interface GroupMember {
  groupId: string
  memberId: string
}

export interface Rights {
  realms: readonly Realm[]
  grants: readonly Grant[]
  groups: readonly GroupMember[]
  /** Milliseconds since 1970, UTC. */
  now: number
}

export interface Reason {
  grant: Grant
  /** The groups by which the person has it, from the one granted to the one that the person is in; none for their own. */
  through: string[]
}
export interface Right {
  role: Role | null
  /** The grants that give this role; none where there is none. */
  because: Reason[]
}

/** A person and every group that they belong to, each with the groups between; groups within groups may form circles. */
export function subjectsOf(personId: string, groups: readonly GroupMember[]): Map<string, string[]> {
  const found = new Map<string, string[]>([[personId, []]])
  const next = [personId]
  for (let subject = next.shift(); subject !== undefined; subject = next.shift())
    for (const { groupId, memberId } of groups)
      if (memberId === subject && !found.has(groupId)) {
        found.set(groupId, [groupId, ...found.get(subject)!])
        next.push(groupId)
      }
  return found
}

/**
 * What a person may do in a realm, and why.
 * @throws RangeError for a realm that is not among these, or lies in itself
 */
export function rightIn(realmId: string, personId: string, rights: Rights): Right {
  const subjects = subjectsOf(personId, rights.groups)
  const byId = new Map(rights.realms.map((realm) => [realm.id, realm]))
  const trail: Realm[] = []
  for (let at: string | null = realmId; at !== null; at = trail.at(-1)!.above) {
    const realm = byId.get(at)
    if (!realm) throw new RangeError(`There is no realm ${at}.`)
    if (trail.includes(realm)) throw new RangeError(`The realm ${at} lies in itself.`)
    trail.push(realm)
  }
  let reasons: Reason[] = []
  // From the share down: each realm lets in what comes from above, or only those who manage there, and adds its own.
  for (const realm of trail.reverse()) {
    if (realm.closed) reasons = reasons.filter(({ grant }) => grant.role === 'manage')
    for (const grant of rights.grants) {
      const through = subjects.get(grant.subjectId)
      if (grant.realmId === realm.id && through && (grant.until === null || grant.until > rights.now))
        reasons.push({ grant, through })
    }
  }
  const most = Math.max(0, ...reasons.map(({ grant }) => rankOf[grant.role]))
  const role = roles.find((one) => rankOf[one] === most) ?? null
  return { role, because: reasons.filter(({ grant }) => grant.role === role) }
}
