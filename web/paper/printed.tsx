// What was printed of a file: by whom, when, which version, how many pages.
import { useQuery } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { useState } from 'react'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { t } from '../words/all'
import { moment } from '../words/formats'

export function WhatWasPrinted({ fileId }: { fileId: string }) {
  const [open, setOpen] = useState(false)
  const { person } = useSession()
  const printed = useQuery({
    enabled: person.guestOf === undefined,
    queryKey: keys.printed(fileId),
    queryFn: () => call('printed', { params: { fileId } }),
  })
  if (!printed.data?.length) return null
  return (
    <>
      <Button look="quiet" className="h-7 text-[13px]" onClick={() => setOpen(true)}>
        <Printer size={15} aria-hidden />
        {t('paper.what-was-printed')}
      </Button>
      {open && (
        <Question
          title={t('paper.what-was-printed')}
          wide
          onClose={() => setOpen(false)}
          answers={<Button onClick={() => setOpen(false)}>{t('people.close-this')}</Button>}
        >
          <ul className="relative max-h-[60vh] overflow-auto text-ink">
            {printed.data.map((one) => (
              <li key={one.id} className="border-b py-2 last:border-b-0">
                <span className="block">
                  {t('paper.printed-what', {
                    number: one.number ?? 0,
                    saved: one.number !== null,
                    unsaved: one.unsaved,
                    pages: one.pages,
                    copies: one.copies,
                  })}
                </span>
                <span className="block text-[13.5px] text-soft">
                  {t('paper.printed-by', { by: one.by, at: moment(one.at), printer: one.printer, state: one.state })}
                </span>
              </li>
            ))}
          </ul>
        </Question>
      )}
    </>
  )
}
