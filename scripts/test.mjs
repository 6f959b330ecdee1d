// npm test: types, lint, unit and integration tests, then the running application in Chromium.
// Everything on its own database, data folder and ports; ends with "N passed, N failed".
import { spawn } from 'node:child_process'
import { chownSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative } from 'node:path'
import { buildAll } from './lib/build.mjs'
import { installDebian, installNpm, paperFonts, postgresPrograms } from './lib/packages.mjs'
import { databaseAccount, requireSpace, root } from './lib/places.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { run } from './lib/say.mjs'

let passed = 0
let failed = 0
/** What failed, by its name and the first lines of why: said once more at the end, where a long report is read first. */
const failures = []

const SHOWN_LINES = 12
/** @param seen what was to be seen when it failed */
function failure(name, why = '', seen = '') {
  const shown = [...why.split('\n').slice(0, SHOWN_LINES), ...(seen ? seen.split('\n').slice(0, SHOWN_LINES) : [])]
  failures.push([name, ...shown.map((line) => `    ${line}`)].join('\n'))
}

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
    else {
      failed++
      failure(name, said)
    }
  }
}

/** The tests of a suite that did not end as expected, with the first error of each. */
function unexpected(suite) {
  return [
    ...(suite.specs ?? [])
      .filter((spec) => !spec.ok)
      .map((spec) => [
        `${spec.file}:${spec.line} ${spec.title}`,
        spec.tests.flatMap((test) => test.results.flatMap((result) => result.errors.map((error) => error.message)))[0],
        spec.tests
          .flatMap((test) => test.results.flatMap((result) => result.attachments))
          .filter(({ name, body }) => name === 'seen' && body)
          .map(({ body }) => Buffer.from(body, 'base64').toString())
          .join('\n'),
      ]),
    ...(suite.suites ?? []).flatMap(unexpected),
  ]
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
    counted = { passed: 0, failed: 1, failures: [[`${name}: no report`, `exit ${status}`]] }
  }
  passed += counted.passed
  failed += counted.failed
  // A runner that failed outside its tests has failed all the same.
  if (status !== 0 && counted.failed === 0) {
    failed++
    failure(`${name}: outside its tests`, `exit ${status}`)
  }
  for (const [test, why, seen] of counted.failures) failure(test, why, seen)
}

await run(async () => {
  requireSpace(tmpdir(), 1500)
  installDebian(
    [
      'postgresql',
      'chromium',
      'python3-docx',
      'python3-openpyxl',
      'python3-xlrd',
      'python3-xlwt',
      'python3-odf',
      'antiword',
      'pandoc',
      'openssh-sftp-server',
      'poppler-utils',
      // A printer that is not ours, and the bus that it looks for.
      'cups-ipp-utils',
      'dbus-daemon',
      'qpdf',
      ...paperFonts,
    ],
    'npm test',
  )
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
          failures: json.testResults.flatMap((file) =>
            file.assertionResults
              .filter((test) => test.status === 'failed')
              .map((test) => [`${relative(root, file.name)}: ${test.fullName}`, test.failureMessages.join('\n')]),
          ),
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
        (json) => ({
          passed: json.stats.expected + json.stats.flaky,
          failed: json.stats.unexpected,
          failures: json.suites.flatMap(unexpected),
        }),
      )
    }
  } finally {
    await stop()
  }
  if (failures.length > 0) console.log(`\n— failed\n${failures.join('\n')}`)
  console.log(`\n${passed} passed, ${failed} failed`)
  process.exitCode = failed > 0 ? 1 : 0
})
