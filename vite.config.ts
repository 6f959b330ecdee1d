import { createHash } from 'node:crypto'
import { readdirSync, writeFileSync } from 'node:fs'
import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { brotliCompress, constants, gzip } from 'node:zlib'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig, type Plugin } from 'vite'

/** Lists what the pages are made of, for the service worker; font files of scripts that are seldom read stay out. */
function offlineList(): Plugin {
  let folder = ''
  return {
    name: 'offline-list',
    apply: 'build',
    configResolved(config) {
      folder = config.build.outDir
    },
    closeBundle() {
      const files = readdirSync(join(folder, 'assets'))
        .filter((name) => !/vietnamese|cyrillic|greek|\.(br|gz)$/.test(name))
        .sort()
        .map((name) => `/assets/${name}`)
      const version = createHash('sha256').update(files.join('\n')).digest('hex').slice(0, 16)
      writeFileSync(join(folder, 'offline.json'), JSON.stringify({ version, files: ['/', '/jaula.svg', ...files] }))
    },
  }
}

const brotli = promisify(brotliCompress)
const gzipped = promisify(gzip)
/** What is text is packed once, here, as small as it goes, and sent as it is (server/pages.ts). */
function packedFiles(): Plugin {
  let folder = ''
  return {
    name: 'packed-files',
    apply: 'build',
    configResolved(config) {
      folder = config.build.outDir
    },
    async closeBundle() {
      const names = ['', 'assets'].flatMap((part) => readdirSync(join(folder, part)).map((name) => join(part, name)))
      const texts = names.filter((name) => /\.(m?js|css|svg|html)$/.test(name))
      await Promise.all(
        texts.map(async (name) => {
          const plain = await readFile(join(folder, name))
          if (plain.length < 1000) return
          const params = { [constants.BROTLI_PARAM_SIZE_HINT]: plain.length }
          await writeFile(join(folder, `${name}.br`), await brotli(plain, { params }))
          await writeFile(join(folder, `${name}.gz`), await gzipped(plain, { level: 9 }))
        }),
      )
    },
  }
}

/** Has what the first screen waits for asked for while the rest is still on its way. */
function earlyFirst(): Plugin {
  return {
    name: 'early-first',
    apply: 'build',
    transformIndexHtml(_html, { bundle, filename }) {
      if (!filename.endsWith('index.html')) return []
      const early = Object.values(bundle ?? {}).find((one) => one.type === 'chunk' && one.name === 'early')
      if (!early) throw new Error('The chunk of what is asked for early is not there.')
      return [{ tag: 'script', attrs: { type: 'module', src: `/${early.fileName}` }, injectTo: 'head-prepend' }]
    },
  }
}

/** What Zod has to make JSON schemas with, which no page and no worker does, and each would have all of. */
function withoutJsonSchemas(): Plugin {
  const stub = '\0without:'
  return {
    name: 'without-json-schemas',
    apply: 'build',
    enforce: 'pre',
    async resolveId(source, importer) {
      if (!/\/(?:to-json-schema|json-schema-processors)\.js$/.test(source) || importer?.startsWith(stub)) return null
      const found = await this.resolve(source, importer, { skipSelf: true })
      return found && /[\\/]zod[\\/]/.test(found.id) ? stub + found.id : null
    },
    async load(id) {
      if (!id.startsWith(stub)) return null
      const own = id.slice(stub.length)
      const code = await readFile(own, 'utf8')
      const names = [...code.matchAll(/^export (?:const|function) (\w+)/gm)].map(([, name]) => name!)
      // Checks of numbers and texts are gathered there for more than schemas.
      const used: string[] = names.filter((name) => name === 'aggregateChecks')
      const rest = names.filter((name) => !used.includes(name))
      return [
        used.length ? `export { ${used.join(', ')} } from ${JSON.stringify(own)}` : '',
        "const none = () => () => { throw new Error('There are no JSON schemas here.') }",
        `export { ${rest.map((name) => `none as ${name}`).join(', ')} }`,
      ].join('\n')
    },
  }
}

/** Zod's own sentences, in English: what pages say of a fault is ours, by its code, and in their language. */
function withoutZodsWords(): Plugin {
  const stub = '\0without-words'
  return {
    name: 'without-zods-words',
    apply: 'build',
    enforce: 'pre',
    resolveId: (source, importer) =>
      /\/locales\/en\.js$/.test(source) && /[\\/]zod[\\/]/.test(importer ?? '') ? stub : null,
    load: (id) => (id === stub ? "export default () => ({ localeError: () => 'Invalid input' })" : null),
  }
}

/** What the contract says of its endpoints to the server and to programmers, and no page reads. */
function withoutSummaries(): Plugin {
  return {
    name: 'without-summaries',
    apply: 'build',
    enforce: 'pre',
    transform(code, id) {
      if (
        !id
          .split('?')[0]!
          .replace(/\/api-\w+\.ts$/, '/api.ts')
          .endsWith('core/contract/api.ts')
      )
        return null
      return { code: code.replace(/^ {4}(?:summary|right): (['"]).*\1,$/gm, ''), map: null }
    },
  }
}

export default defineConfig({
  plugins: [
    tailwindcss(),
    withoutJsonSchemas(),
    withoutZodsWords(),
    withoutSummaries(),
    offlineList(),
    packedFiles(),
    earlyFirst(),
  ],
  define: { __MEASURING__: 'false', __PACE__: '1' },
  build: {
    outDir: 'dist/web',
    emptyOutDir: true,
    target: 'es2024',
    chunkSizeWarningLimit: 4000,
    rollupOptions: {
      input: {
        main: 'index.html',
        link: 'link.html',
        early: 'web/app/early.ts',
        'service-worker': 'web/offline/service-worker.ts',
      },
      output: {
        entryFileNames: ({ name }) => (name === 'service-worker' ? 'service-worker.js' : 'assets/[name]-[hash].js'),
      },
    },
  },
  worker: { format: 'es', plugins: () => [withoutJsonSchemas(), withoutZodsWords(), withoutSummaries()] },
})
