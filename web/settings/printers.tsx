// The printers of the office: how each is now; named and taken away by administrators.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button, Field } from '../design/controls'
import { printersQuery } from '../paper/likes'
import { reasonWords } from '../paper/reasons'
import { t, told } from '../words/all'

export function Printers() {
  const client = useQueryClient()
  const { person } = useSession()
  const printers = useQuery(printersQuery)
  const [name, setName] = useState('')
  const [address, setAddress] = useState('')
  const [fault, setFault] = useState('')
  const [asking, setAsking] = useState(false)
  const tried = async (what: () => Promise<unknown>) => {
    setFault('')
    setAsking(true)
    try {
      await what()
      return true
    } catch (error) {
      setFault(error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again'))
      return false
    } finally {
      setAsking(false)
      void client.invalidateQueries({ queryKey: keys.printers() })
    }
  }
  return (
    <div>
      {printers.data?.length === 0 && <p className="text-soft">{t('paper.no-printers')}</p>}
      <ul>
        {printers.data?.map(({ id, name: called, address: at, now, fault: why }) => {
          const reasons = reasonWords(now?.reasons ?? []).map((words) => `${words}.`)
          return (
            <li key={id} className="flex flex-wrap items-center gap-x-3 border-b py-2 first:pt-0 last:border-b-0">
              <span className="min-w-0 flex-1 basis-56">
                <span className="block font-medium">{called}</span>
                <span className="block break-words text-[13.5px] leading-[19px] text-soft">
                  {now && reasons.length === 0 && t('paper.printer-state', { state: now.state, waiting: now.waiting })}
                  {now?.supplies.map(({ name: supply, level }) =>
                    level === null ? '' : ` ${t('paper.supply', { supply, level })}`,
                  )}{' '}
                  {now?.model}
                  {at && <span className="block font-mono text-[12.5px]">{at}</span>}
                </span>
                {(why || reasons.length > 0) && (
                  <span className="block text-[13.5px] text-rust">{why ? told(why) : reasons.join(' ')}</span>
                )}
              </span>
              {person.administrator && (
                <Button
                  look="quiet"
                  aria-label={t('paper.remove-which', { name: called })}
                  onClick={() => tried(() => call('removePrinter', { params: { printerId: id } }))}
                >
                  {t('paper.remove')}
                </Button>
              )}
            </li>
          )
        })}
      </ul>
      {person.administrator && (
        <form
          className="mt-3 flex flex-wrap items-start gap-3"
          onSubmit={async (event) => {
            event.preventDefault()
            if (!(await tried(() => call('addPrinter', { body: { name, address } })))) return
            setName('')
            setAddress('')
          }}
        >
          <Field
            className="w-44"
            label={t('paper.printer-name')}
            value={name}
            maxLength={100}
            onChange={(event) => setName(event.target.value)}
          />
          <Field
            className="min-w-0 flex-1 basis-64"
            label={t('paper.printer-address')}
            placeholder="ipp://printer.merrowdale.example/ipp/print"
            value={address}
            {...(fault && { fault })}
            onChange={(event) => setAddress(event.target.value)}
          />
          <Button type="submit" className="mt-6 h-9" disabled={!name.trim() || !address.trim() || asking}>
            {t('paper.add-printer')}
          </Button>
        </form>
      )}
    </div>
  )
}
