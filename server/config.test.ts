import { describe, expect, test } from 'vitest'
import { readConfig } from './config'

const database = { DATABASE_URL: 'postgres://somewhere' }

describe('what the environment says', () => {
  test('a wrong setting is named, and nothing is taken for no limit', () => {
    expect(() => readConfig({})).toThrow('DATABASE_URL')
    for (const wrong of ['abc', '0', '-5', '1.5', '9e99'])
      expect(() => readConfig({ ...database, JAULA_LARGEST_FILE: wrong })).toThrow('JAULA_LARGEST_FILE: Use a')
    expect(() => readConfig({ ...database, JAULA_PORT: '70000' })).toThrow('JAULA_PORT')
    expect(() => readConfig({ ...database, JAULA_DEMO: 'yes' })).toThrow('JAULA_DEMO: Use 1 or 0.')
    expect(readConfig({ ...database, JAULA_LARGEST_FILE: '' }).largestFile).toBe(100_000_000)
  })

  test('the demo is there on this computer alone, and for others only when it is asked for, with a warning', () => {
    expect(readConfig(database)).toMatchObject({ demo: true, warnings: [], hosts: ['127.0.0.1', 'localhost', '[::1]'] })
    expect(readConfig({ ...database, JAULA_HOST: '0.0.0.0' }).demo).toBe(false)
    expect(readConfig({ ...database, JAULA_HOST: '0.0.0.0', JAULA_DEMO: '1' })).toMatchObject({
      demo: true,
      warnings: expect.arrayContaining([expect.stringContaining('demo is open')]),
    })
    const proxied = {
      ...database,
      JAULA_HOST: '0.0.0.0',
      JAULA_PROXIES: '1',
      JAULA_HOSTS: 'Files.example, backup.example',
    }
    expect(readConfig(proxied)).toMatchObject({
      hosts: ['files.example', 'backup.example', '127.0.0.1', 'localhost', '[::1]'],
      proxies: 1,
      warnings: [],
    })
  })
})
