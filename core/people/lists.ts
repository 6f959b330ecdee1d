// What can be reached, as lists that any program opens (RFC 4180): a line a person, or a place.
import type { Access, Reach, Role } from '../contract'
import { written } from '../formats/csv/records'
import { needsGuard } from '../formats/csv/values'

/** The words of a list's head and of roles, in the language of whoever saves it. */
export interface ListWords {
  head: readonly string[]
  role: Record<Role, string>
  /** Between groups that lie in each other. */
  inside: string
}

/** @param rows with the head; what a program would take for a formula stands behind an apostrophe */
export const asList = (rows: readonly (readonly string[])[]): string =>
  rows
    .map((row) => `${row.map((field) => written(needsGuard(field) ? `'${field}` : field, ',', false)).join(',')}\r\n`)
    .join('')

/** Who can reach a place: name, signs in with, role, given at, by which groups, until; a line a reason. */
export function listOfAccess({ people, grants, realms }: Access, { head, role, inside }: ListWords): string {
  const grantOf = new Map(grants.map((grant) => [grant.id, grant]))
  const nameOf = new Map(realms.map(({ id, name }) => [id, name]))
  return asList([
    head,
    ...people.flatMap((one) =>
      one.because.map(({ grantId, through }) => {
        const { realmId, until } = grantOf.get(grantId)!
        return [
          one.person.name,
          one.person.handle,
          role[one.role],
          nameOf.get(realmId)!,
          through.join(inside),
          until ?? '',
        ]
      }),
    ),
  ])
}

/** What somebody can reach: share, place, role, given at, by which groups, until; a line a reason. */
export function listOfReach({ realms }: Reach, { head, role, inside }: ListWords): string {
  return asList([
    head,
    ...realms.flatMap((one) =>
      one.because.map(({ at, through, until }) => [
        one.share,
        one.realm.kind === 'share' ? '' : one.realm.name,
        role[one.role],
        at,
        through.join(inside),
        until ?? '',
      ]),
    ),
  ])
}
