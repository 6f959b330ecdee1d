// The messages that the stand-in for a mail server has taken, as a page.
import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { join } from 'node:path'
import { simpleParser } from 'mailparser'
import { listening, type StandIn } from './listen'
import { messageNames, messagesIn, returnedIn } from './mail'

const safe = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!)
const page = (title: string, body: string): string => `<!doctype html><html lang="en"><meta charset="utf-8">
<title>${safe(title)}</title><style>body{font:16px/1.5 sans-serif;max-width:760px;margin:24px auto;padding:0 16px}
article{border-top:1px solid #ccc;padding:12px 0}pre{white-space:pre-wrap;font:inherit}.soft{color:#555}</style>
<h1>${safe(title)}</h1>${body}`

async function shown(folder: string, kind: string, name: string): Promise<string> {
  const mail = await simpleParser(readFileSync(join(folder, name)))
  const to = [mail.to ?? []].flat().map(({ text }) => text)
  const attached = mail.attachments.map(
    ({ filename, size }, at) =>
      `<li><a href="/${kind}/${encodeURIComponent(name)}/${at}">${safe(filename ?? 'part')}</a> <span class="soft">${size} bytes</span></li>`,
  )
  return `<article><h2>${safe(mail.subject ?? '')}</h2>
<p class="soft">${safe(mail.from?.text ?? '')} → ${safe(to.join(', '))} · ${safe(mail.date?.toISOString() ?? '')}</p>
<pre>${safe(mail.text ?? '')}</pre><ul>${attached.join('')}</ul></article>`
}

export async function startMailPage({ folder, port = 0 }: { folder: string; port?: number }): Promise<StandIn> {
  const folders: Record<string, string> = { messages: messagesIn(folder), returned: returnedIn(folder) }
  const server = createServer((request, response) => {
    const answer = async () => {
      const [kind = '', name, at] = decodeURIComponent(request.url ?? '/')
        .slice(1)
        .split('/')
      const of = folders[kind || 'messages']
      if (!of) return void response.writeHead(404).end()
      const names = messageNames(of).reverse()
      if (name === undefined || at === undefined) {
        const articles = await Promise.all(names.slice(0, 50).map((one) => shown(of, kind || 'messages', one)))
        const other = kind === 'returned' ? '<a href="/">sent</a>' : '<a href="/returned">came back</a>'
        response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
        return void response.end(page('Mail of the demo', `<p>${other}</p>${articles.join('') || '<p>None yet.</p>'}`))
      }
      if (!names.includes(name)) return void response.writeHead(404).end()
      const { attachments } = await simpleParser(readFileSync(join(of, name)))
      const part = attachments[Number(at)]
      if (!part) return void response.writeHead(404).end()
      response.writeHead(200, {
        'content-type': 'application/octet-stream',
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(part.filename ?? 'part')}`,
      })
      response.end(part.content)
    }
    answer().catch(() => response.headersSent || response.writeHead(500).end())
  })
  return listening(server, port)
}
