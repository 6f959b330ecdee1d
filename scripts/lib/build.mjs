import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './places.mjs'

const sources = ['core', 'server', 'standins', 'web', 'vite.config.ts', 'package-lock.json', 'index.html', 'link.html']

/** A fingerprint of everything the build reads. */
function fingerprint() {
  const hash = createHash('sha256')
  const visit = (path) => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name))
    else if (!/\.test\.tsx?$/.test(path)) hash.update(path.slice(root.length)).update(readFileSync(path))
  }
  for (const source of sources) visit(join(root, source))
  return hash.digest('hex')
}

/** Bundles the server for Node; the packages stay outside. */
export async function bundleServer(entry, outfile) {
  const { build } = await import('esbuild')
  await build({
    entryPoints: [join(root, entry)],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    sourcemap: 'inline',
    logLevel: 'warning',
    tsconfig: join(root, 'tsconfig.json'),
  })
}

/** Builds the pages. @param measuring let a benchmark switch the journal off, which no other build can @param pace what waits is this many times as quick */
export async function buildPages(outDir, measuring = false, pace = 1) {
  const { build } = await import('vite')
  await build({
    root,
    logLevel: 'error',
    build: { outDir, emptyOutDir: true },
    define: { __MEASURING__: String(measuring), __PACE__: String(pace) },
  })
}

/** Builds the pages and the server into dist/, unless nothing changed since. */
export async function buildAll() {
  const mark = join(root, 'dist/.built-from')
  const now = fingerprint()
  if (existsSync(mark) && readFileSync(mark, 'utf8') === now) return
  console.log('Building …')
  rmSync(join(root, 'dist'), { recursive: true, force: true })
  mkdirSync(join(root, 'dist'))
  await bundleServer('server/main.ts', join(root, 'dist/server/main.js'))
  await bundleServer('server/search/words.worker.ts', join(root, 'dist/server/words.worker.js'))
  await bundleServer('server/storage/history.worker.ts', join(root, 'dist/server/history.worker.js'))
  await bundleServer('server/changes/compare.worker.ts', join(root, 'dist/server/compare.worker.js'))
  await bundleServer('server/intake/intake.worker.ts', join(root, 'dist/server/intake.worker.js'))
  await bundleServer('server/side-lists/sheets.worker.ts', join(root, 'dist/server/sheets.worker.js'))
  await bundleServer('server/links/shown.worker.ts', join(root, 'dist/server/shown.worker.js'))
  await bundleServer('server/mail/convert.worker.ts', join(root, 'dist/server/convert.worker.js'))
  await bundleServer('server/paper/typeset.worker.ts', join(root, 'dist/server/typeset.worker.js'))
  await bundleServer('server/trial.ts', join(root, 'dist/server/trial.js'))
  await bundleServer('server/verify.ts', join(root, 'dist/server/verify.js'))
  await bundleServer('server/copy.ts', join(root, 'dist/server/copy.js'))
  await bundleServer('server/restore.ts', join(root, 'dist/server/restore.js'))
  await bundleServer('server/drill.ts', join(root, 'dist/server/drill.js'))
  await buildPages(join(root, 'dist/web'))
  writeFileSync(mark, now)
}
