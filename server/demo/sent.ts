// What Ben sent of the budget by mail over the year, and what became of it.
import type { DataSource } from 'typeorm'
import type { Version } from '../../core/contract'
import { asKept, say } from '../../core/words/said'
import { MailRow, SendingRow, SentVersionRow } from '../mail/entity'

export async function seedSent(
  database: DataSource,
  by: string,
  uuidOf: (name: string) => string,
  sent: readonly { version: Version; name: string; type: string | null; words: string; at: string; to: string[] }[],
): Promise<void> {
  for (const { version, name, type, words, at, to } of sent) {
    const id = uuidOf(`sent ${at}`)
    if (await database.manager.existsBy(SendingRow, { id })) continue
    await database.manager.insert(SendingRow, {
      id,
      entryId: version.fileId,
      personId: by,
      at: new Date(at),
      as: 'file',
      type,
      words,
      losses: [],
    })
    await database.manager.insert(SentVersionRow, {
      sendingId: id,
      versionId: version.id,
      place: 0,
      number: version.number,
      name,
      size: String(version.size),
    })
    for (const address of to) {
      const lost = address.startsWith('clerk')
      await database.manager.insert(MailRow, {
        id: uuidOf(`sent ${at} ${address}`),
        messageId: `<${uuidOf(`message ${at} ${address}`)}@merrowdale.example>`,
        kind: 'file',
        personId: by,
        sendingId: id,
        address,
        subject: name,
        state: lost ? 'came back' : 'sent',
        at: new Date(at),
        since: new Date(Date.parse(at) + (lost ? 240_000 : 3_000)),
        tries: 1,
        said: lost ? asKept(say('problem.mail-server-said', { said: 'Nobody here has this address' })) : null,
        seenAt: lost ? new Date(Date.parse(at) + 3_600_000) : null,
      })
    }
  }
}
