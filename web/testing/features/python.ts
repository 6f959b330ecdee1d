// Asks programs that know nothing of this one (Debian's python3-docx, python3-odf, python3-openpyxl) what they have of files.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

export interface Asked {
  bytes: Uint8Array
  /** The file's ending. */
  type: string
  /** About the file `d`. */
  expression: string
}

/**
 * @param prelude what the expressions need, by the file's ending: it opens `path` as `d`
 * @returns for each what it comes to, as JSON has it; where it fails, what went wrong as a text
 */
export function askPython(all: readonly Asked[], prelude: Readonly<Record<string, string>>): unknown[] {
  const folder = mkdtempSync(join(tmpdir(), 'jaula-features-'))
  try {
    const files = all.map(({ bytes, type, expression }, index) => {
      const path = join(folder, `${index}.${type}`)
      writeFileSync(path, bytes)
      return [path, prelude[type], expression]
    })
    writeFileSync(join(folder, 'asked.json'), JSON.stringify(files))
    const program = `
import json
answers = []
for path, prelude, expression in json.load(open('asked.json')):
    try:
        scope = {'path': path}
        exec(prelude, scope)
        answers.append(json.loads(json.dumps(eval(expression, scope))))
    except Exception as error:
        answers.append(f'{type(error).__name__}: {error}')
print(json.dumps(answers))
`
    const said = execFileSync('/usr/bin/python3', ['-c', program], {
      cwd: folder,
      encoding: 'utf8',
      maxBuffer: 64 << 20,
    })
    return JSON.parse(said) as unknown[]
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
