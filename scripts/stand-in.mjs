// npm run stand-in -- WHICH FAULT…: switches on what goes wrong with a stand-in of the demo, and off again.
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { databaseAccount, dataFolder } from './lib/places.mjs'
import { CannotGoOn, run } from './lib/say.mjs'

const usage = `Say which one, and what goes wrong:
  npm run stand-in -- sftp slow=200 room=5000000 readOnly vanishes=40 flips=3 loses=10 clock=8
  npm run stand-in -- webdav …the same…
  npm run stand-in -- mail refuses=450 slow=2000 bounces=clerk@ delays=board@
                                           a 5xx refuses for good; what has such a part in its address comes back, or is late
  npm run stand-in -- printer paper=4 jam=2 coverOpen toner=5 slow=2000 refuses vanishes=3
                                           small-printer is the other one; counts are of faces since it was started
  npm run stand-in -- sftp well            nothing goes wrong any more (webdav, mail, printer: the same)
  npm run stand-in -- drive away | back    pulls the removable drive out, or puts it in again
  npm run stand-in -- drive flip | lose    changes a bit of a file there, or takes one away
  npm run stand-in -- share flip | lose    the same on the network share`

/** The payload's files in a folder and in those inside it. */
function payload(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile() && /(?:^|\/)data(?:\/|$)/.test(entry.parentPath.slice(folder.length)))
    .map((entry) => join(entry.parentPath, entry.name))
}

await run(() => {
  const [which, ...what] = process.argv.slice(2)
  const root = join(dataFolder(process.env.JAULA_DATA ?? '.jaula', databaseAccount()), 'stand-ins')
  if (!existsSync(root)) throw new CannotGoOn('There are no stand-ins here. npm start makes them with the demo.')
  if ((which === 'sftp' || which === 'webdav') && what.length) {
    const faults = {}
    for (const one of what) {
      if (one === 'well') continue
      const [, name, number] = /^(slow|room|vanishes|flips|loses|clock|readOnly)(?:=(\d+))?$/.exec(one) ?? []
      if (!name || (name !== 'readOnly' && number === undefined)) throw new CannotGoOn(usage)
      faults[name] = name === 'readOnly' ? true : Number(number)
    }
    writeFileSync(join(root, which, 'faults.json'), JSON.stringify(faults))
    console.log(`${which}: ${Object.keys(faults).length ? JSON.stringify(faults) : 'well'}`)
    return
  }
  if (which === 'mail' && what.length) {
    const faults = {}
    for (const one of what) {
      if (one === 'well') continue
      const [, name, value] = /^(refuses|slow|bounces|delays)=(.+)$/.exec(one) ?? []
      const isNumber = name === 'refuses' || name === 'slow'
      if (!name || (isNumber && !/^\d+$/.test(value))) throw new CannotGoOn(usage)
      faults[name] = isNumber ? Number(value) : value
    }
    writeFileSync(join(root, 'mail', 'faults.json'), JSON.stringify(faults))
    console.log(`mail: ${Object.keys(faults).length ? JSON.stringify(faults) : 'well'}`)
    return
  }
  if ((which === 'printer' || which === 'small-printer') && what.length) {
    const faults = {}
    for (const one of what) {
      if (one === 'well') continue
      const [, name, value] = /^(paper|jam|coverOpen|toner|slow|refuses|vanishes)(?:=(\d+))?$/.exec(one) ?? []
      const isSwitch = name === 'coverOpen' || name === 'refuses'
      if (!name || isSwitch !== (value === undefined)) throw new CannotGoOn(usage)
      faults[name] = isSwitch ? true : Number(value)
    }
    writeFileSync(join(root, which, 'faults.json'), JSON.stringify(faults))
    console.log(`${which}: ${Object.keys(faults).length ? JSON.stringify(faults) : 'well'}`)
    return
  }
  const drive = join(root, 'drives', 'Blue drive')
  const pulled = join(root, 'away', 'Blue drive')
  if (which === 'drive' && (what[0] === 'away' || what[0] === 'back')) {
    const [from, to] = what[0] === 'away' ? [drive, pulled] : [pulled, drive]
    if (!existsSync(from)) throw new CannotGoOn(`It is ${what[0]} already.`)
    mkdirSync(join(root, 'away'), { recursive: true })
    renameSync(from, to)
    console.log(`The drive is ${what[0]}.`)
    return
  }
  const folder = which === 'drive' ? drive : which === 'share' ? join(root, 'Network share') : null
  if (!folder || !existsSync(folder) || (what[0] !== 'flip' && what[0] !== 'lose')) throw new CannotGoOn(usage)
  const files = payload(folder)
  if (!files.length) throw new CannotGoOn('There is no copy yet.')
  const file = files[Math.floor(Math.random() * files.length)]
  if (what[0] === 'lose') rmSync(file)
  else {
    const bytes = readFileSync(file)
    if (bytes.length) bytes[bytes.length >> 1] ^= 1
    writeFileSync(file, bytes)
  }
  console.log(`${file}: ${what[0] === 'lose' ? 'gone' : 'one bit is another'}`)
})
