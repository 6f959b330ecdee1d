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
  /** Of a share: only who manages changes anything in it; who may edit looks. */
  archived?: boolean
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
 * The way to a realm, from the share down.
 * @throws RangeError for a realm that is not among these, or lies in itself
 */
function trailTo(realmId: string, { realms }: Rights): Realm[] {
  const byId = new Map(realms.map((realm) => [realm.id, realm]))
  const trail: Realm[] = []
  for (let at: string | null = realmId; at !== null; at = trail.at(-1)!.above) {
    const realm = byId.get(at)
    if (!realm) throw new RangeError(`There is no realm ${at}.`)
    if (trail.includes(realm)) throw new RangeError(`The realm ${at} lies in itself.`)
    trail.push(realm)
  }
  return trail.reverse()
}

/**
 * The grants that count in a realm, whoever has them: each realm on the way down lets in what comes from above, or only
 * those who manage there, and adds its own.
 * @throws RangeError as `rightIn`
 */
export function grantsIn(realmId: string, rights: Rights): Grant[] {
  let counting: Grant[] = []
  for (const realm of trailTo(realmId, rights)) {
    if (realm.closed) counting = counting.filter(({ role }) => role === 'manage')
    for (const grant of rights.grants)
      if (grant.realmId === realm.id && (grant.until === null || grant.until > rights.now)) counting.push(grant)
  }
  return counting
}

/** What a granted role comes to in a share that may be archived. */
export const roleIn = (role: Role, archived: boolean): Role => (archived && role === 'edit' ? 'view' : role)

function most(reasons: readonly Reason[], archived: boolean): Right {
  const given = ({ grant }: Reason) => roleIn(grant.role, archived)
  let rank = 0
  for (const reason of reasons) rank = Math.max(rank, rankOf[given(reason)])
  const role = roles.find((one) => rankOf[one] === rank) ?? null
  return { role, because: reasons.filter((reason) => given(reason) === role) }
}

/**
 * What a person may do in a realm, and why.
 * @throws RangeError for a realm that is not among these, or lies in itself
 */
export function rightIn(realmId: string, personId: string, rights: Rights): Right {
  const subjects = subjectsOf(personId, rights.groups)
  const reasons = grantsIn(realmId, rights).flatMap((grant) => {
    const through = subjects.get(grant.subjectId)
    return through ? [{ grant, through }] : []
  })
  return most(reasons, trailTo(realmId, rights)[0]!.archived ?? false)
}

/**
 * What everybody may do in a realm who may do anything, and why: `rightIn` from the other side.
 * @param isPerson tells people from groups
 * @throws RangeError as `rightIn`
 */
export function everyoneIn(realmId: string, rights: Rights, isPerson: (id: string) => boolean): Map<string, Right> {
  const inGroup = new Map<string, string[]>()
  for (const { groupId, memberId } of rights.groups) {
    const members = inGroup.get(groupId)
    if (members) members.push(memberId)
    else inGroup.set(groupId, [memberId])
  }
  const reasons = new Map<string, Reason[]>()
  for (const grant of grantsIn(realmId, rights)) {
    const reached = new Map<string, string[]>([[grant.subjectId, []]])
    // Outwards, so that each is reached by as few groups as there can be; groups within groups may form circles.
    for (const [id, through] of reached)
      if (isPerson(id)) {
        const known = reasons.get(id)
        if (known) known.push({ grant, through })
        else reasons.set(id, [{ grant, through }])
      } else for (const member of inGroup.get(id) ?? []) if (!reached.has(member)) reached.set(member, [...through, id])
  }
  const archived = trailTo(realmId, rights)[0]!.archived ?? false
  return new Map(Array.from(reasons, ([id, those]) => [id, most(those, archived)]))
}

/** Whether a group lies in itself, when its members are these. */
export function makesCircle(groupId: string, memberIds: readonly string[], groups: readonly GroupMember[]): boolean {
  const above = new Set(subjectsOf(groupId, groups).keys())
  return memberIds.some((id) => above.has(id))
}
