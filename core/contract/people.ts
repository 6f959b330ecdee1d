import { z } from 'zod'
import type { Code } from '../words/en'
import { DefaultPlace, Defaults } from './files'
import { IntervalOrOff, standardInterval } from './protection'

/** Where mail reaches somebody (RFC 5322, addr-spec; the letters that are in use). */
export const MailAddress = z
  .string()
  .trim()
  .max(254)
  .regex(z.regexes.email, 'contract.mail-address-form' satisfies Code)

export const Person = z.object({
  id: z.uuid(),
  handle: z.string(),
  name: z.string(),
  administrator: z.boolean(),
  /** Where mail reaches them. */
  mail: z.string().nullable().default(null),
  /** Of somebody without an account: the link that they came by to write. */
  guestOf: z.uuid().optional(),
})
export type Person = z.infer<typeof Person>

/** What somebody signs in with. */
export const Handle = z.string().regex(/^[a-z0-9._-]{2,40}$/, 'contract.handle-form' satisfies Code)
export const PersonName = z
  .string()
  .trim()
  .min(1, 'contract.enter-a-name' satisfies Code)
  .max(100)

export const SignIn = z.object({
  handle: z.string().min(1).max(100),
  password: z.string().min(1).max(200),
  /** Of the second factor, or one to be used once in its place. */
  second: z.string().max(100).optional(),
})

/** Whether somebody has a second factor, and how many codes are left to be used once in its place. */
export const SecondFactor = z.object({ since: z.iso.datetime().nullable(), codesLeft: z.number().int() })
export type SecondFactor = z.infer<typeof SecondFactor>
/** What a device that makes codes is to have: the secret (RFC 4648, Base32) and the same as an address. */
export const BegunSecondFactor = z.object({ secret: z.string(), address: z.string() })
export type BegunSecondFactor = z.infer<typeof BegunSecondFactor>
export const WithPassword = z.object({ password: z.string().min(1).max(200) })
export const WithSecond = z.object({ second: z.string().min(1).max(100) })
export const RecoveryCodes = z.object({ codes: z.array(z.string()) })

export const DemoAccount = z.object({ handle: z.string(), name: z.string(), work: z.string(), password: z.string() })
export type DemoAccount = z.infer<typeof DemoAccount>

/** Who is signed in, and what the sign-in page has to offer when nobody is. */
export const Session = z.object({
  person: Person.nullable(),
  /** Nobody has an account yet: the first administrator is to be made. */
  firstRun: z.boolean(),
  /** With a code that the start command prints. */
  firstCode: z.boolean().default(false),
  demoAccounts: z.array(DemoAccount),
  /** Largest file accepted, in bytes. */
  largestFile: z.number().int(),
  /** Where mail goes out from, and how much may go with a message, in bytes; null where none is set up. */
  mail: z.object({ from: z.string(), largest: z.number().int() }).nullable().default(null),
})
export type Session = z.infer<typeof Session>

export const FirstAdministrator = z.object({
  handle: Handle,
  name: PersonName,
  password: z
    .string()
    .min(10, 'contract.password-short' satisfies Code)
    .max(200),
  share: z
    .string()
    .trim()
    .min(1, 'contract.enter-share-name' satisfies Code)
    .max(100),
  /** What the start command printed. */
  code: z.string().max(100).optional(),
})

/** A browser in which one is signed in. */
export const SignedInSession = z.object({
  id: z.uuid(),
  browser: z.string(),
  address: z.string(),
  since: z.iso.datetime(),
  usedAt: z.iso.datetime(),
  /** The one that asks. */
  here: z.boolean(),
})
export type SignedInSession = z.infer<typeof SignedInSession>

export const NewPassword = z.object({
  present: z
    .string()
    .min(1, 'contract.enter-present-password' satisfies Code)
    .max(200),
  next: z
    .string()
    .min(10, 'contract.password-short' satisfies Code)
    .max(200),
})

/** @param mail null for none; it stays where nothing is said of it */
export const OwnName = z.object({ name: PersonName, mail: MailAddress.nullable().optional() })

/** What a person has set for themselves. */
export const Settings = z.object({
  /** Seconds between recovery points. */
  recoveryInterval: IntervalOrOff.default(standardInterval),
  /** Whether named work becomes a version by itself every few quiet seconds. */
  continuousSave: z.boolean().default(false),
  /** How long unsaved work is kept after it was closed or let go; days. */
  keptDays: z.number().int().min(1).max(90).default(14),
  /** Whether a recovery drill runs by itself once a week on the Desk. */
  weeklyDrill: z.boolean().default(false),
  /** How somebody writes theirs in names of files; nothing: by their name. */
  initials: z
    .string()
    .regex(/^\p{Lu}{0,4}$/u, 'contract.initials-form' satisfies Code)
    .default(''),
  appearance: z.enum(['system', 'light', 'dark']).default('system'),
  /** The language of the screens; system: what the browser asks for. */
  language: z.enum(['system', 'en', 'de']).default('system'),
  /** Where new work is filed and in which type, chosen by browsing. */
  defaults: Defaults.default({}),
  /** Where the recovery points of work that was never saved are kept, for that share's managers to see; null: for oneself only. */
  unsavedPlace: DefaultPlace.nullable().default(null),
  /** How much room unsaved work may take on a device and on shared storage; millions of bytes. */
  deviceRoom: z.number().int().min(10).max(10_000).default(500),
  storageRoom: z.number().int().min(1).max(10_000).default(200),
  /** Of work that was set aside, what goes first to make room. */
  goesFirst: z.enum(['oldest', 'largest']).default('oldest'),
})
export type Settings = z.infer<typeof Settings>
