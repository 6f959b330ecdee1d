import { MailAddress } from '../../core/contract'

/** Addresses in a text, as they are copied from elsewhere; null where it holds something else. */
export function addressesIn(text: string): string[] | null {
  const parts = text
    .split(/[\s,;]+/)
    .map((part) => part.replace(/^<|>$/g, ''))
    .filter(Boolean)
  return parts.length && parts.every((part) => MailAddress.safeParse(part).success) ? parts : null
}
