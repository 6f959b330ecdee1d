// What the file says of itself, changed like any other of its content: kept as it is typed, undone, saved with it.
import { useEffect, useState } from 'react'
import {
  type About,
  type AboutField,
  aboutFields,
  longestAbout,
  sameAbout,
  tidyAbout,
} from '../../../core/content/about'
import { fileType, saysAbout } from '../../../core/formats/types'
import { t, told } from '../../words/all'
import type { DraftSession } from '../../work/session'

/** So long between two letters another step of undo begins; milliseconds. */
const pause = 3000

/** As the rows below them. */
const aboutRow = 'grid grid-cols-[104px_minmax(0,1fr)] items-center gap-x-3'

const labels: Readonly<Record<AboutField, string>> = {
  title: t('about.title'),
  author: t('about.author'),
  subject: t('about.subject'),
  keywords: t('about.keywords'),
}

/** Follows what the work says of itself; undefined until the work is there. */
function useAbout(session: DraftSession): About | null | undefined {
  const [about, setAbout] = useState(() => session.about())
  useEffect(() => {
    const look = () => {
      const now = session.about()
      setAbout((before) => (before !== undefined && now !== undefined && sameAbout(before, now) ? before : now))
    }
    look()
    const stops = [session.subscribe(look), session.subscribeToEdits(look)]
    return () => {
      for (const stop of stops) stop()
    }
  }, [session])
  return about
}

export function OwnWords({ session, type, editable }: { session: DraftSession; type: string; editable: boolean }) {
  const about = useAbout(session)
  /** While the keys are in a field, what is typed there: as it is typed, and not as it is put in order. */
  const [typing, setTyping] = useState<{
    field: AboutField
    value: string
    /** When it was last another edit; milliseconds of the page. */
    at: number
  } | null>(null)
  if (!saysAbout(type)) {
    const { label } = fileType(type)
    return <p className="pb-1 pt-2 text-[14px] text-soft">{t('about.no-place', { type: told(label) })}</p>
  }
  return (
    <fieldset aria-label={t('about.in-the-file')} className="flex flex-col gap-1.5 pb-4 pt-2 text-[14px]">
      {aboutFields.map((field) => (
        <label key={field} className={aboutRow}>
          <span className="text-soft">{labels[field]}</span>
          <input
            className="h-8 w-full rounded-md border border-rule-strong bg-sheet px-2 read-only:border-transparent read-only:bg-transparent"
            dir="auto"
            maxLength={longestAbout}
            readOnly={!editable || about === undefined}
            placeholder={field === 'keywords' && editable ? t('about.parted-by-commas') : undefined}
            value={typing?.field === field ? typing.value : (about?.[field] ?? '')}
            onChange={({ target: { value }, timeStamp }) => {
              const last = typing?.field === field ? typing.at : Number.NEGATIVE_INFINITY
              // Each letter is kept at once; what is typed in one go is undone in one.
              const isEdit = session.setAbout(
                tidyAbout({ ...session.about(), [field]: value }),
                timeStamp - last > pause,
              )
              setTyping({ field, value, at: isEdit ? timeStamp : last })
            }}
            onBlur={() => setTyping(null)}
          />
        </label>
      ))}
      <p className="pt-1 text-[13px] leading-[18px] text-soft">{t('about.in-the-file')}</p>
    </fieldset>
  )
}
