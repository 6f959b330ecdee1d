import { z } from 'zod'

/** Something done to accounts, rights or holds, or that left its share. */
export const AuditEntry = z.object({
  id: z.uuid(),
  at: z.iso.datetime(),
  /** null for somebody who was not signed in. */
  person: z.string().nullable(),
  share: z.string().nullable(),
  what: z.enum([
    'signed in',
    'sign-in refused',
    'kept from signing in',
    'signed out elsewhere',
    'password changed',
    'first administrator',
    'person added',
    'account changed',
    'account closed',
    'account opened again',
    'code given',
    'code used',
    'signed out by an administrator',
    'group made',
    'group changed',
    'group ended',
    'share made',
    'share changed',
    'share archived',
    'share opened again',
    'right granted',
    'right ended',
    'closed to others',
    'opened',
    'rights from above',
    'hold set',
    'hold lifted',
    'retention set',
    'taken to another share',
    'brought in from another share',
  ]),
  facts: z.record(z.string(), z.unknown()),
})
export type AuditEntry = z.infer<typeof AuditEntry>
