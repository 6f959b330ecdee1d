// The journal worker. It outlives a page that hangs: what the page handed over is committed to the device
// within a tenth of a second, and recovery points and saves go to the server from here. All of that is the
// keeper's (core/recovery/keeper.ts); here it is wired to the browser.
import { uuidv7 } from 'uuidv7'
import { Keeper } from '../../core/recovery/keeper'
import { type Followed, type FromJournal, followChannel, type ToJournal } from '../../core/recovery/protocol'
import { device, heldDrafts, holdDraft } from './device'
import { bringOver } from './earlier'
import { sharedStorage } from './shared-storage'

const scope = self as unknown as {
  postMessage(message: FromJournal): void
  onmessage: ((event: MessageEvent<ToJournal>) => void) | null
}

const channel = new BroadcastChannel(followChannel)
// What an earlier Jaula left here is brought over first, so that it is found like everything else.
const ready = bringOver().catch(() => {})

/** Only a build for measuring waits shorter. */
declare const __PACE__: number
const keeper = new Keeper(
  {
    disk: { ...device, deviceId: () => ready.then(device.deviceId) },
    storage: sharedStorage,
    clock: {
      now: () => Date.now(),
      steady: () => performance.now(),
      sleep: (milliseconds) => new Promise((done) => setTimeout(done, milliseconds)),
    },
    lock: { take: holdDraft, held: heldDrafts },
    newId: uuidv7,
    say: (message) => scope.postMessage(message),
    tell: (message) => channel.postMessage(message),
  },
  __PACE__,
)

channel.onmessage = ({ data }: MessageEvent<Followed>) => void keeper.followed(data)
scope.onmessage = ({ data }) => void ready.then(() => keeper.hear(data))

let seconds = 0
setInterval(() => {
  void keeper.tick()
  if (++seconds % (60 * __PACE__) === 0) void bringOver().catch(() => {})
}, 1000 / __PACE__)
