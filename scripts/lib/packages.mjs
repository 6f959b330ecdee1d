// What the machine needs: Debian's packages and the npm packages, installed only when missing.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './places.mjs'
import { CannotGoOn } from './say.mjs'

/** Open fonts of the same widths as those that files name most (core/paper/fonts.ts). */
export const paperFonts = ['fonts-liberation', 'fonts-crosextra-carlito', 'fonts-crosextra-caladea']

/** The folder of PostgreSQL's programs, newest first; undefined when there is none. */
export function postgresPrograms() {
  const base = '/usr/lib/postgresql'
  if (!existsSync(base)) return undefined
  return readdirSync(base)
    .filter((version) => Number(version) >= 15 && existsSync(join(base, version, 'bin/initdb')))
    .sort((a, b) => Number(b) - Number(a))
    .map((version) => join(base, version, 'bin'))[0]
}

/** Installs Debian packages. @param packages names; @param purpose what for, for people */
export function installDebian(packages, purpose) {
  const missing = packages.filter(
    (name) =>
      spawnSync('dpkg-query', ['-W', '-f', '${Status}', name], { encoding: 'utf8' }).stdout !== 'install ok installed',
  )
  if (missing.length === 0) return
  const by = `apt-get install ${missing.join(' ')}`
  if (spawnSync('apt-get', ['--version']).status !== 0)
    throw new CannotGoOn(`${purpose} needs ${missing.join(', ')}, and this machine has no apt-get to install it with.`)
  if (process.getuid() !== 0)
    throw new CannotGoOn(
      `${purpose} needs ${missing.join(', ')}, and you have no right to install it. Ask an administrator to run: ${by}`,
    )
  console.log(`Installing ${missing.join(', ')} …`)
  // Debian's package would otherwise make and start a database of its own beside ours.
  const settings = '/etc/postgresql-common/createcluster.conf'
  if (missing.includes('postgresql') && !existsSync(settings)) {
    mkdirSync('/etc/postgresql-common', { recursive: true })
    writeFileSync(settings, 'create_main_cluster = false\n')
  }
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  spawnSync('apt-get', ['update', '-qq'], { env, stdio: ['ignore', 'ignore', 'inherit'] })
  const done = spawnSync(
    'apt-get',
    ['install', '-y', '-qq', '--no-install-recommends', '-o', 'Dpkg::Options::=--force-confold', ...missing],
    { env, encoding: 'utf8' },
  )
  if (done.status !== 0)
    throw new CannotGoOn(
      `Could not install ${missing.join(', ')}: ${done.stderr.trim().split('\n').pop() || 'apt-get failed'} Try: ${by}`,
    )
}

/**
 * Installs the npm packages at the versions of package-lock.json when they were installed from another one.
 * (Not `npm ci`: npm 11 writes no entries for other platforms' optional packages and then refuses its own lock.)
 */
export function installNpm() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex')
  const mark = join(root, 'node_modules/.installed-from')
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return
  console.log('Installing the npm packages …')
  const done = spawnSync('npm', ['install', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, NODE_ENV: 'development' },
  })
  if (done.status !== 0)
    throw new CannotGoOn(`Could not install the npm packages: ${done.stderr.trim().split('\n').slice(-3).join(' ')}`)
  writeFileSync(mark, lock)
}
