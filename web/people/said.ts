// What roles, reasons and refusals are called on the screens of people and rights.
import type { Role } from '../../core/contract'
import { Refused } from '../api/call'
import { t, told } from '../words/all'

export const roleWords = (role: Role): string => t('people.role', { role })
/** In the order in which they are offered. */
export const roleChoices = (['view', 'edit', 'manage'] as const).map((role) => [role, roleWords(role)] as const)

/** Between groups that lie in each other. */
export const inside = ' › '

export const sentence = (error: unknown): string =>
  error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again')
