// Reports of what became of a message (RFC 3464, in a message of RFC 6522): which message it was, whether it reached its
// reader, and why not.
import { simpleParser } from 'mailparser'

export interface Report {
  /** What the message may be known by: Message-IDs with their brackets, and the name that was given for its envelope. */
  messageIds: string[]
  /** `failed` for good; `delayed` is still tried. */
  action: 'failed' | 'delayed'
  /** To whom. */
  recipient: string
  /** Why, in the words of the mail server that says so; or its code of RFC 3463. */
  said: string
}

/** Fields of one group of a report, by their names in small letters; those that go on in a next line are one. */
function fieldsOf(text: string): Map<string, string> {
  const fields = new Map<string, string>()
  for (const line of text.replace(/\r?\n[ \t]+/g, ' ').split(/\r?\n/)) {
    const colon = line.indexOf(':')
    if (colon > 0) fields.set(line.slice(0, colon).trim().toLowerCase(), line.slice(colon + 1).trim())
  }
  return fields
}
/** What stands behind the kind of an address or of a code: `rfc822; somebody@office.example`. */
const plain = (field = ''): string => field.replace(/^[^;]*;\s*/, '').trim()
const idsIn = (text: string): string[] => text.match(/<[^<>\s]+@[^<>\s]+>/g) ?? []

/** @param message whole, as it came @returns null for a message that is no report of a delivery that failed or is late */
export async function reportOf(message: Buffer): Promise<Report | null> {
  const mail = await simpleParser(message, {
    keepDeliveryStatus: true,
    skipHtmlToText: true,
    skipTextToHtml: true,
    skipImageLinks: true,
  })
  const part = (type: RegExp) => mail.attachments.find(({ contentType }) => type.test(contentType))
  const status = part(/^message\/(?:global-)?delivery-status$/i)
  if (!status) return null
  const groups = status.content
    .toString('utf8')
    .split(/\r?\n[ \t]*\r?\n/)
    .map(fieldsOf)
  const about = groups.find((group) => /^(?:failed|delayed)$/i.test(group.get('action') ?? ''))
  if (!about) return null
  const original = part(/^(?:message\/(?:rfc822|global)|text\/rfc822-headers|message\/global-headers)$/i)
  const head = original ? (original.content.toString('latin1').split(/\r?\n\r?\n/)[0] ?? '') : ''
  const envelope = groups.map((group) => group.get('original-envelope-id')).find(Boolean)
  const references = [mail.references ?? []].flat().join(' ')
  return {
    messageIds: [
      ...idsIn(fieldsOf(head).get('message-id') ?? ''),
      ...idsIn(`${mail.inReplyTo ?? ''} ${references}`),
      ...(envelope ? [`<${envelope}>`] : []),
    ],
    action: about.get('action')!.toLowerCase() as Report['action'],
    recipient: plain(about.get('original-recipient') ?? about.get('final-recipient')),
    said: (
      plain(about.get('diagnostic-code')).replace(/^\d{3}[ -](?:\d\.\d{1,3}\.\d{1,3} )?/, '') ||
      (about.get('status') ?? '')
    ).slice(0, 500),
  }
}
