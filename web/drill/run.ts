// Runs a recovery drill: opens the scratch page apart from this one, ends it without a word in the
// middle of its typing, and gets back what it wrote through the same code as real work.
import { uuidv7 } from 'uuidv7'
import type { DraftKind, Drill, JournalRecord } from '../../core/contract'
import { recordOf } from '../../core/recovery/chain'
import { drillReport, pointGrace } from '../../core/recovery/drill'
import { call } from '../api/call'
import { WorkbookStore } from '../views/workbook/store'
import { t } from '../words'
import { deviceId, forgetDraft } from '../work/device'
import { deviceName } from '../work/device-name'
import { gatherDraft } from '../work/gather'
import { codec } from '../workers/codec'
import { drillChannel, type FromScratch } from './scratch'

/** With a longer interval no point falls into a drill, and only the device is rehearsed; seconds. */
const longestWait = 60

export interface Progress {
  stage: 'opening' | 'typing' | 'getting back'
  /** Letters typed so far, and the share of the time that has passed. */
  letters: number
  done: number
}

/** @param interval the person's recovery interval in seconds @throws when the scratch page does not start */
export async function runDrill(
  kind: DraftKind,
  interval: number,
  onProgress: (progress: Progress) => void,
): Promise<Drill> {
  const draftId = uuidv7()
  const letters: { letter: string; at: number }[] = []
  const channel = new BroadcastChannel(drillChannel(draftId))
  const frame = document.createElement('iframe')
  frame.setAttribute('aria-hidden', 'true')
  frame.tabIndex = -1
  frame.style.cssText = 'position:fixed;left:-2000px;top:0;width:800px;height:600px;border:0'
  frame.src = `/drill/${kind}/${draftId}`
  const waitsForPoint = interval > 0 && interval <= longestWait
  try {
    onProgress({ stage: 'opening', letters: 0, done: 0 })
    await new Promise<void>((resolve, reject) => {
      const late = setTimeout(() => reject(new Error(t('drill.the-scratch-page-did-not-start'))), 30_000)
      channel.onmessage = ({ data }: MessageEvent<FromScratch>) => {
        if (data.say === 'typed') letters.push({ letter: data.letter, at: data.at })
        else {
          clearTimeout(late)
          resolve()
        }
      }
      document.body.append(frame)
    })
    // Long enough for a point, and to a moment that nobody can arrange for.
    const seconds = (waitsForPoint ? interval + pointGrace / 1000 + 2 : 8) + Math.random() * 3
    const begun = Date.now()
    await new Promise<void>((resolve) => {
      const watching = setInterval(() => {
        const done = (Date.now() - begun) / (seconds * 1000)
        onProgress({ stage: 'typing', letters: letters.length, done: Math.min(1, done) })
        if (done >= 1) {
          clearInterval(watching)
          resolve()
        }
      }, 250)
    })
    // Ended without warning: its page and its journal's worker are gone in the middle of what they did.
    frame.remove()
    const endedAt = Date.now()
    onProgress({ stage: 'getting back', letters: letters.length, done: 1 })
    const device = await timed(async () => textOf(kind, (await gatherDraft(draftId))?.records ?? []))
    // As if this device were gone: only what shared storage has.
    const storage = waitsForPoint
      ? await timed(async () =>
          textOf(kind, ((await call('draft', { params: { draftId } }).catch(() => null))?.lines ?? []).map(recordOf)),
        )
      : null
    const report = drillReport(kind, { letters, endedAt }, interval, device, storage)
    return await call('newDrill', {
      body: { id: uuidv7(), deviceId: await deviceId(), deviceName: deviceName(), report },
    })
  } finally {
    channel.close()
    frame.remove()
    await call('endDraft', { params: { draftId }, body: { state: 'finished' } }).catch(() => {})
    await forgetDraft(draftId).catch(() => {})
  }
}

async function timed(back: () => Promise<string>): Promise<{ back: string; ms: number }> {
  const begun = performance.now()
  return { back: await back(), ms: performance.now() - begun }
}

/** What was typed, by the code that opens recovered work. */
async function textOf(kind: DraftKind, records: JournalRecord[]): Promise<string> {
  if (kind === 'spreadsheet') {
    const store = new WorkbookStore(null)
    try {
      if ('damaged' in (await store.open(null, records))) return ''
      const [sheet] = store.workbook.sheets
      // Each cell begins with a colon.
      return (sheet?.rows ?? []).map((row) => String(row?.[0]?.value ?? '').slice(1)).join('')
    } finally {
      store.close()
    }
  }
  const read = await codec().readDocument(null, records)
  if ('damaged' in read) return ''
  const texts: string[] = []
  const walk = (node: { text?: string; content?: unknown[] }) => {
    if (node.text) texts.push(node.text)
    for (const child of node.content ?? []) walk(child as typeof node)
  }
  walk(read.opened.json as Parameters<typeof walk>[0])
  return texts.join('')
}
