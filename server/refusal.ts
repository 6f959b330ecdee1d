import { QueryFailedError } from 'typeorm'
import type { Problem, ProblemType } from '../core/contract'
import { inEnglish } from '../core/words/in-english'
import { isSaid, type Sentence, say } from '../core/words/said'
import { FarFault } from './far-fault'

const statusOf: Record<ProblemType, number> = {
  invalid: 400,
  'signed-out': 401,
  'wrong-password': 403,
  'second-factor': 403,
  'too-many-attempts': 429,
  'not-allowed': 403,
  'not-found': 404,
  'name-refused': 422,
  'name-taken': 409,
  'newer-version': 409,
  'changed-meanwhile': 409,
  'last-manager': 409,
  'link-over': 410,
  'convention-refused': 422,
  'too-large': 413,
  'checksum-differs': 422,
  'no-room': 507,
  'storage-unavailable': 503,
  unexpected: 500,
}

/** A request that is refused, with the facts of why. Thrown by services, answered as a problem. */
export class Refusal extends Error {
  readonly problem: Problem
  constructor(type: ProblemType, sentence: Sentence, facts: Omit<Partial<Problem>, 'type' | 'title' | 'status'> = {}) {
    const title = inEnglish(sentence)
    super(title)
    this.problem = {
      type,
      title,
      ...(isSaid(sentence) && { says: sentence }),
      status: statusOf[type],
      ...facts,
    }
  }
}

/**
 * The refusal for what is not there, and, word for word the same, for what is there and not for this person to see:
 * an answer must not tell the two apart.
 */
export const absent = (): Refusal => new Refusal('not-found', say('problem.this-is-not-here-any-more-or'))

/** Whether the database was not there, as against there and refusing. */
export function databaseIsAway(error: unknown): boolean {
  const cause = error instanceof QueryFailedError ? error.driverError : error
  // Another computer's connections end so, too.
  if (cause instanceof FarFault) return false
  const code = (cause as { code?: string })?.code ?? ''
  // A connection that could not be made, whatever the reason: PostgreSQL ends only connections so.
  if ((cause as { severity?: string })?.severity === 'FATAL') return true
  if (['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ENOTFOUND', 'ETIMEDOUT'].includes(code)) return true
  // SQLSTATE classes 08 (connection), 53 (resources: disk full too), 57P (shutdown and crash); a statement that took too long
  if (/^(08|53|57P)/.test(code) || code === '57014') return true
  return /Connection terminated|connection timeout|timeout exceeded when trying to connect|Driver not Connected|not queryable|Client was closed|already released/i.test(
    String((cause as Error)?.message),
  )
}

/** The SQLSTATE of a failed query, or an empty string. */
export const sqlState = (error: unknown): string =>
  error instanceof QueryFailedError ? String((error.driverError as { code?: string }).code ?? '') : ''
