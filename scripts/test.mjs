// npm test: types, lint, unit and integration tests, then the running application in Chromium.
// Everything on its own database, data folder and ports; ends with "N passed, N failed".
import { spawn } from 'node:child_process'
import { chownSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buildAll } from './lib/build.mjs'
import { installDebian, installNpm, postgresPrograms } from './lib/packages.mjs'
import { databaseAccount, requireSpace, root } from './lib/places.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { run } from './lib/say.mjs'

let passed = 0
let failed = 0

/** Checks that are commands, at one time: each passes when it exits with 0. What one says comes out when it has ended. */
async function commands(...all) {
  const checked = await Promise.all(
    all.map(
      ([name, ...args]) =>
        new Promise((done) => {
          const child = spawn(process.execPath, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] })
          const said = []
          child.stdout.on('data', (chunk) => said.push(chunk))
          child.stderr.on('data', (chunk) => said.push(chunk))
          child.once('close', (status) => done({ name, status, said: Buffer.concat(said).toString() }))
        }),
    ),
  )
  for (const { name, status, said } of checked) {
    console.log(`\n— ${name}\n${said}`)
    if (status === 0) passed++
    else failed++
  }
}

/** A test runner that writes a report; its own counts are added. */
async function runner(name, args, env, report, counts) {
  console.log(`\n— ${name}`)
  const status = await new Promise((done) =>
    spawn(process.execPath, args, {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    }).once('exit', done),
  )
  let counted
  try {
    counted = counts(JSON.parse(readFileSync(report, 'utf8')))
  } catch {
    counted = { passed: 0, failed: 1 }
  }
  passed += counted.passed
  failed += counted.failed
  // A runner that failed outside its tests has failed all the same.
  if (status !== 0 && counted.failed === 0) failed++
}

await run(async () => {
  requireSpace(tmpdir(), 1500)
  installDebian(['postgresql', 'chromium', 'python3-docx', 'python3-openpyxl', 'pandoc'], 'npm test')
  installNpm()
  const only = process.argv[2]
  const scratch = mkdtempSync(join(tmpdir(), 'jaula-test-'))
  const account = databaseAccount()
  if (account) chownSync(scratch, account.uid, account.gid)
  const postgres = await startPostgres(postgresPrograms(), scratch, account, false)
  const stop = async () => {
    await postgres.stop()
    rmSync(scratch, { recursive: true, force: true })
  }
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stop().then(() => process.exit(1)))
  try {
    const env = { TEST_DATABASE_URL: postgres.superuserUrl, TEST_SCRATCH: scratch }
    if (!only) {
      await commands(
        ['types', 'node_modules/typescript/bin/tsc', '--noEmit'],
        ['lint', 'node_modules/@biomejs/biome/bin/biome', 'check', '.'],
      )
    }
    if (!only || only === 'unit') {
      const report = join(scratch, 'vitest.json')
      await runner(
        'unit and integration',
        [
          'node_modules/vitest/vitest.mjs',
          'run',
          '--reporter=default',
          '--reporter=json',
          `--outputFile.json=${report}`,
        ],
        env,
        report,
        (json) => ({
          passed: json.numPassedTests,
          failed: json.numFailedTests,
        }),
      )
    }
    if (!only || only === 'e2e') {
      await buildAll()
      const report = join(scratch, 'playwright.json')
      await runner(
        'end to end',
        ['node_modules/@playwright/test/cli.js', 'test', '--reporter=list,json', ...process.argv.slice(3)],
        { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: report },
        report,
        (json) => ({ passed: json.stats.expected + json.stats.flaky, failed: json.stats.unexpected }),
      )
    }
  } finally {
    await stop()
  }
  console.log(`\n${passed} passed, ${failed} failed`)
  process.exitCode = failed > 0 ? 1 : 0
})
