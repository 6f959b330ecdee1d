import { z } from 'zod'
import type { Code } from '../words/en'

/** Each number is an age in days up to which it holds; each is at least the one before. Hours, days … are of UTC. */
export const RetentionRule = z
  .object({
    all: z
      .number()
      .int()
      .min(1, 'contract.keep-a-day' satisfies Code)
      .max(36_500),
    hourly: z.number().int().min(0).max(36_500),
    daily: z.number().int().min(0).max(36_500),
    weekly: z.number().int().min(0).max(36_500),
    /** null keeps one a month for good. */
    monthly: z.number().int().min(0).max(36_500).nullable(),
  })
  .refine(
    ({ all, hourly, daily, weekly, monthly }) =>
      all <= hourly && hourly <= daily && daily <= weekly && (monthly === null || weekly <= monthly),
    'contract.stretches' satisfies Code,
  )
export type RetentionRule = z.infer<typeof RetentionRule>

export const usualRule: RetentionRule = { all: 30, hourly: 60, daily: 180, weekly: 730, monthly: null }
