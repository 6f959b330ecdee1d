import { Refused } from './ask'
import { t, told } from './words'

/** What the server's refusal says here. */
export function refusal(error: unknown): string {
  const problem = error instanceof Refused ? error.problem : null
  if (!problem) return t('links.server-away')
  if (problem.type === 'too-many-attempts') return t('links.too-often', { seconds: problem.retryAfter ?? 60 })
  return told(problem)
}
