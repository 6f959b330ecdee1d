import { useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { type GivenCode, NewAccount } from '../../core/contract'
import { handleFor, type ListedPeople, peopleOfList } from '../../core/people/people-list'
import { isSaid, sentenceOf } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { t, told } from '../words/all'
import { sentence } from './said'

/** Adds one person by hand, or as many as a list has. */
export function AddPeople({
  taken,
  onAdded,
  onClose,
}: {
  taken: (handle: string) => boolean
  onAdded: (given: GivenCode[]) => void
  onClose: () => void
}) {
  const client = useQueryClient()
  const [name, setName] = useState('')
  const [handle, setHandle] = useState<string | null>(null)
  const [administrator, setAdministrator] = useState(false)
  const [mail, setMail] = useState('')
  const [byMail, setByMail] = useState(true)
  const { session } = useSession()
  const [faults, setFaults] = useState<Record<string, string>>({})
  const [list, setList] = useState<(ListedPeople & { file: string }) | null>(null)
  const [busy, setBusy] = useState(false)
  const chooser = useRef<HTMLInputElement>(null)
  // Until somebody says otherwise it follows the name.
  const proposed = handle ?? (name.trim() ? handleFor(name, taken) : '')

  async function add(people: NewAccount[]) {
    setBusy(true)
    try {
      const given = await call('addPeople', { body: { people, byMail: byMail && session.mail !== null } })
      await client.invalidateQueries({ queryKey: keys.people() })
      onAdded(given)
    } catch (error) {
      const fields = error instanceof Refused ? (error.problem.fields ?? {}) : {}
      if (list) {
        // Somebody was added meanwhile: told by their line, as everything else that keeps them out.
        const late = Object.entries(fields).flatMap(([field, why]) => {
          const line = list.lines[Number(/^people\.(\d+)\./.exec(field)?.[1])]
          return line !== undefined && isSaid(why) ? [{ line, why }] : []
        })
        if (late.length) setList({ ...list, faults: late.sort((a, b) => a.line - b.line) })
        else setFaults({ list: sentence(error) })
      } else {
        const of = (field: string) => Object.entries(fields).find(([one]) => one.endsWith(field))?.[1]
        const [atName, atHandle, atMail] = [of('.name'), of('.handle'), of('.mail')]
        setFaults({
          ...(atName && { name: told(atName) }),
          ...(atHandle && { handle: told(atHandle) }),
          ...(atMail && { mail: told(atMail) }),
          ...(!atName && !atHandle && !atMail && { name: sentence(error) }),
        })
      }
    } finally {
      setBusy(false)
    }
  }
  function addOne() {
    const one = NewAccount.safeParse({ name, handle: proposed, administrator, mail: mail.trim() || null })
    if (one.success) return void add([one.data])
    const found: Record<string, string> = {}
    for (const { path, message } of one.error.issues) found[String(path[0])] ??= told(sentenceOf(message))
    setFaults(found)
  }
  async function read(file: File) {
    setFaults({})
    setList({ file: file.name, ...peopleOfList(new Uint8Array(await file.arrayBuffer()), taken) })
  }

  const addressed = list?.people.filter((one) => one.mail !== null).length ?? 0
  if (list)
    return (
      <Question
        title={t('people.people-of-a-list', { file: list.file })}
        onClose={onClose}
        answers={
          <>
            {list.faults.length === 0 && (
              <Button look="main" disabled={busy} onClick={() => void add(list.people)}>
                {t('people.add-them', { people: list.people.length })}
              </Button>
            )}
            <Button onClick={() => setList(null)}>{t('people.another-list')}</Button>
          </>
        }
      >
        {list.faults.length > 0 ? (
          <>
            <p className="mb-2 text-rust" role="alert">
              {t('people.nobody-is-added-until', { faults: list.faults.length })}
            </p>
            <ul className="max-h-[min(50vh,360px)] overflow-auto text-ink">
              {list.faults.map(({ line, why }) => (
                <li key={`${line} ${why.say}`} className="flex gap-3 border-b py-1.5 last:border-b-0">
                  <span className="w-16 shrink-0 text-soft">{t('people.line', { line })}</span>
                  <span>{told(why)}</span>
                </li>
              ))}
            </ul>
          </>
        ) : (
          <>
            <p className="mb-2">{t('people.each-gets-a-code', { people: list.people.length })}</p>
            {faults.list && (
              <p role="alert" className="mb-2 text-rust">
                {faults.list}
              </p>
            )}
            <div className="max-h-[min(50vh,360px)] overflow-auto border-y">
              <table className="w-full text-left text-ink">
                <tbody>
                  {list.people.slice(0, 200).map((one) => (
                    <tr key={one.handle} className="border-b last:border-b-0">
                      <td className="py-1.5 pr-4">{one.name}</td>
                      <td className="py-1.5 pr-4 font-mono text-[13px]">{one.handle}</td>
                      <td className="py-1.5 pr-4 text-[13px] text-soft">{one.mail}</td>
                      <td className="py-1.5 text-[13px] text-soft">
                        {[one.administrator ? t('people.administrator') : '', ...one.groups].filter(Boolean).join(', ')}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            {session.mail && addressed > 0 && <CodeByMail people={addressed} on={byMail} onChange={setByMail} />}
            {list.people.length > 200 && (
              <p className="pt-2 text-[14px]">{t('people.and-more', { more: list.people.length - 200 })}</p>
            )}
          </>
        )}
      </Question>
    )
  return (
    <Question
      title={t('people.add-somebody')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" type="submit" form="add-somebody" disabled={busy}>
            {t('people.add')}
          </Button>
          <Button onClick={() => chooser.current?.click()}>{t('people.from-a-list')}</Button>
        </>
      }
    >
      <form
        id="add-somebody"
        noValidate
        className="flex flex-col gap-4 text-ink"
        onSubmit={(event) => {
          event.preventDefault()
          addOne()
        }}
      >
        <Field
          label={t('people.name')}
          autoComplete="off"
          value={name}
          fault={faults.name}
          onChange={(event) => setName(event.target.value)}
        />
        <Field
          label={t('people.signs-in-with')}
          autoComplete="off"
          spellCheck={false}
          value={proposed}
          fault={faults.handle}
          onChange={(event) => setHandle(event.target.value.toLowerCase())}
        />
        <Field
          label={t('people.mail')}
          type="email"
          autoComplete="off"
          value={mail}
          fault={faults.mail}
          onChange={(event) => setMail(event.target.value)}
        />
        {session.mail && mail.trim() && <CodeByMail people={null} on={byMail} onChange={setByMail} />}
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={administrator} onChange={(event) => setAdministrator(event.target.checked)} />
          {t('people.keeps-accounts-too')}
        </label>
        <p className="text-[14px] text-soft">{t('people.a-list-has-a-line-a-person')}</p>
      </form>
      <input
        ref={chooser}
        type="file"
        accept=".csv,.tsv,.txt"
        className="sr-only"
        tabIndex={-1}
        aria-label={t('people.from-a-list')}
        onChange={(event) => {
          const [file] = event.target.files ?? []
          event.target.value = ''
          if (file) void read(file)
        }}
      />
    </Question>
  )
}

const CodeByMail = ({
  people,
  on,
  onChange,
}: {
  people: number | null
  on: boolean
  onChange: (on: boolean) => void
}) => (
  <label className="flex items-center gap-2 py-1 text-ink">
    <input
      type="checkbox"
      className="accent-accent"
      checked={on}
      onChange={(event) => onChange(event.target.checked)}
    />
    {people === null ? t('people.code-by-mail') : t('people.codes-by-mail', { people })}
  </label>
)
