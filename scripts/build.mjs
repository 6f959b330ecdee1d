import { buildAll } from './lib/build.mjs'
import { installNpm } from './lib/packages.mjs'
import { run } from './lib/say.mjs'

await run(async () => {
  installNpm()
  await buildAll()
})
