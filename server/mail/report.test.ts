// What comes back, as different mail servers write it.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { deliveryReport } from '../../standins/mail'
import { reportOf } from './report'

const id = '<0d6f0e0a-6a8e-4a60-9b49-3d2d6d4f8a11@merrowdale.example>'
const lines = (...all: string[]) => Buffer.from(all.join('\r\n'))
const original = lines(
  'From: Ida <jaula@merrowdale.example>',
  'To: clerk@dale-council.example',
  `Message-ID: ${id}`,
  'Subject: Levels',
  '',
  'The levels.',
  '',
)

describe('a report', () => {
  test('with the head of what it is about', async () => {
    const about = { from: 'jaula@merrowdale.example', to: 'clerk@dale-council.example' }
    expect(await reportOf(Buffer.from(deliveryReport(original, { ...about, action: 'failed' })))).toEqual({
      messageIds: [id],
      action: 'failed',
      recipient: 'clerk@dale-council.example',
      said: 'Nobody here has this address',
    })
    const late = await reportOf(Buffer.from(deliveryReport(original, { ...about, action: 'delayed' })))
    expect([late?.action, late?.said]).toEqual(['delayed', 'No answer from the host'])
  })

  test('with the whole of it, fields over several lines, and its envelope’s name', async () => {
    const report = await reportOf(
      lines(
        'From: MAILER-DAEMON@mx.dale-council.example',
        'To: jaula@merrowdale.example',
        'Subject: failure notice',
        'MIME-Version: 1.0',
        'Content-Type: multipart/report; report-type="delivery-status"; boundary=b1',
        '',
        'preamble',
        '--b1',
        'Content-Type: text/plain',
        '',
        'Sorry.',
        '--b1',
        'Content-Type: message/delivery-status',
        '',
        'Reporting-MTA: dns; mx.dale-council.example',
        'Original-Envelope-Id: 0d6f0e0a-6a8e-4a60-9b49-3d2d6d4f8a11@merrowdale.example',
        '',
        'Original-Recipient: rfc822;clerk@dale-council.example',
        'Final-Recipient: rfc822; postbox-7@inside.dale-council.example',
        'Action: failed',
        'Status: 5.2.2',
        'Diagnostic-Code: smtp; 552 5.2.2 The mailbox is full',
        '  and takes nothing more',
        '',
        '--b1',
        'Content-Type: message/rfc822',
        '',
        original.toString(),
        '--b1--',
        '',
      ),
    )
    expect(report).toEqual({
      messageIds: [id, id],
      action: 'failed',
      recipient: 'clerk@dale-council.example',
      said: 'The mailbox is full and takes nothing more',
    })
  })

  test('without a reason has its code; of several that were sent to, the one that failed', async () => {
    const report = await reportOf(
      lines(
        'Content-Type: multipart/report; report-type=delivery-status; boundary=b2',
        `In-Reply-To: ${id}`,
        '',
        '--b2',
        'Content-Type: message/delivery-status',
        '',
        'Reporting-MTA: dns; mx.example',
        '',
        'Final-Recipient: rfc822; board@merrowdale.example',
        'Action: delivered',
        'Status: 2.0.0',
        '',
        'Final-Recipient: rfc822; clerk@dale-council.example',
        'Action: failed',
        'Status: 5.1.1',
        '',
        '--b2--',
        '',
      ),
    )
    expect(report).toEqual({
      messageIds: [id],
      action: 'failed',
      recipient: 'clerk@dale-council.example',
      said: '5.1.1',
    })
  })

  test('is none: a letter, an answer that somebody is away, a delivery that went well', async () => {
    expect(await reportOf(original)).toBe(null)
    expect(
      await reportOf(lines('From: clerk@x.example', 'Auto-Submitted: auto-replied', `In-Reply-To: ${id}`, '', 'Away.')),
    ).toBe(null)
    const well = deliveryReport(original, { from: 'a@b.example', to: 'c@d.example', action: 'failed' })
    expect(await reportOf(Buffer.from(well.replace('Action: failed', 'Action: delivered')))).toBe(null)
  })

  test('of anything is a report or none', async () => {
    const good = Buffer.from(deliveryReport(original, { from: 'a@b.example', to: 'c@d.example', action: 'failed' }))
    await fc.assert(
      fc.asyncProperty(
        fc.oneof(
          fc.uint8Array({ maxLength: 400 }).map((bytes) => Buffer.from(bytes)),
          // A good one, harmed in one place.
          fc
            .tuple(fc.nat(good.length), fc.nat(40), fc.uint8Array({ maxLength: 12 }))
            .map(([at, out, put]) => Buffer.concat([good.subarray(0, at), put, good.subarray(at + out)])),
        ),
        async (bytes) => {
          const report = await reportOf(bytes)
          if (!report) return
          expect(['failed', 'delayed']).toContain(report.action)
          expect(report.said.length).toBeLessThanOrEqual(500)
          for (const one of report.messageIds) expect(one).toMatch(/^<[^<>]*>$/)
        },
      ),
      { numRuns: 200 },
    )
  })
})
