// An acknowledged save through the whole server against a raw insert of the same bytes.
import { randomBytes, randomUUID } from 'node:crypto'
import { Agent, request } from 'node:http'
import pg from 'pg'
import { inTurn, report } from './report'

const { BENCH_URL: url = '', BENCH_DATABASE_URL: database = '' } = process.env
const client = new pg.Client({ connectionString: database })
await client.connect()
await client.query('create table if not exists raw_insert (id uuid primary key, bytes bytea not null)')
await client.query('alter table raw_insert alter column bytes set storage external')
const signedIn = await fetch(`${url}/api/session`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ handle: 'priya', password: 'lock-and-weir' }),
})
const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!
const [share] = (await (await fetch(`${url}/api/shares`, { headers: { cookie } })).json()) as { id: string }[]
/** Node's own http, over a connection that stays: its fetch takes longer to hand over a megabyte than the server to keep it. */
const agent = new Agent({ keepAlive: true })
const post = (path: string, body: Buffer): Promise<{ file: { id: string }; version: { id: string } }> =>
  new Promise((done, failed) => {
    const sent = request(
      url + path,
      { method: 'POST', agent, headers: { cookie, 'content-length': body.length } },
      (answer) => {
        let text = ''
        answer.on('data', (chunk) => {
          text += chunk
        })
        answer.on('end', () => (answer.statusCode === 200 ? done(JSON.parse(text)) : failed(new Error(text))))
      },
    )
    sent.on('error', failed)
    sent.end(body)
  })
let head = await post(
  `/api/files?shareId=${share!.id}&name=${randomUUID()}.docx&key=${randomUUID()}`,
  randomBytes(1_000_000),
)
const { ours, baseline } = await inTurn(
  60,
  async () => {
    head = await post(
      `/api/files/${head.file.id}/versions?baseId=${head.version.id}&key=${randomUUID()}`,
      randomBytes(1_000_000),
    )
  },
  () => client.query('insert into raw_insert values ($1, $2)', [randomUUID(), randomBytes(1_000_000)]),
)
report({ suite: 'save', case: 'save-1mb', value: ours, unit: 'ms', baseline, better: 'lower' })
await client.end()
agent.destroy()
