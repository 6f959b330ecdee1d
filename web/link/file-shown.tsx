import clsx from 'clsx'
import { type ReactNode, useEffect, useState } from 'react'
import type { LinkedEntry, OpenedLink } from '../../core/contract'
import { mostRowsShown } from '../../core/formats/shown-rows'
import { fileType, isReadOnly } from '../../core/formats/types'
import { Blank, Button } from '../design/controls'
import { bytesAt, type Shown, shown } from './ask'
import { ComeToWrite } from './come-to-write'
import { refusal } from './refusal'
import { listed, size, t } from './words'

/** A file, to be looked at and taken along. */
export function FileShown({ link, file, above }: { link: OpenedLink; file: LinkedEntry; above?: ReactNode }) {
  const [state, setState] = useState<{ shown: Shown } | { why: string } | null>(null)
  const [again, setAgain] = useState(0)
  const [writing, setWriting] = useState(false)
  const type = file.type ?? ''
  const editable = link.role === 'edit' && fileType(type).editable && !isReadOnly(type)
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked anew when somebody says so
  useEffect(() => {
    let gone = false
    setState(null)
    shown(link.id, file.id).then(
      (one) => !gone && setState({ shown: one }),
      (error) => !gone && setState({ why: refusal(error) }),
    )
    return () => {
      gone = true
    }
  }, [link.id, file.id, again])
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3 px-4 py-4 md:px-6">
        <div className="min-w-0 flex-1 basis-72">
          {above}
          <h1 className="break-words font-mono text-[19px] font-medium leading-7">{file.name}</h1>
          <p className="text-[14px] text-soft">
            {t('links.saved', { day: new Date(file.savedAt ?? 0), size: size(file.size ?? 0) })}
          </p>
        </div>
        {editable && !writing && (
          <Button look="main" className="h-9" onClick={() => setWriting(true)}>
            {t('links.edit')}
          </Button>
        )}
        {link.download && (
          <a
            href={bytesAt(link.id, file.id)}
            download={file.name}
            className={clsx(
              'inline-flex h-9 items-center rounded-md border px-3.5 font-medium',
              editable
                ? 'border-rule-strong bg-paper hover:bg-wash'
                : 'border-transparent bg-accent text-on-accent hover:brightness-110',
            )}
          >
            {t('links.download')}
          </a>
        )}
      </div>
      {writing && <ComeToWrite link={link} file={file} onClose={() => setWriting(false)} />}
      {!state && <Blank waiting title={t('links.one-moment')} />}
      {state && 'why' in state && (
        <Blank title={state.why}>
          <Button className="mt-3" onClick={() => setAgain(again + 1)}>
            {t('links.try-again')}
          </Button>
        </Blank>
      )}
      {state && 'shown' in state && <What shown={state.shown} link={link} name={file.name} />}
    </main>
  )
}

function What({ shown, link, name }: { shown: Shown; link: OpenedLink; name: string }) {
  if (!shown)
    return (
      <Blank title={t('links.not-shown')}>
        {link.download ? t('links.download-to-see') : t('links.ask-for-it', { by: link.by })}
      </Blank>
    )
  if ('picture' in shown) return <Picture of={shown.picture} name={name} />
  return (
    <>
      {shown.cut.length > 0 && (
        <p className="bg-wash px-4 py-2 md:px-6" role="status">
          {t('links.cut', { sheets: listed(shown.cut), rows: mostRowsShown })}
        </p>
      )}
      {/* Nothing in it runs: it is somebody's file, and has no part in this page. */}
      <iframe
        title={t('links.what-it-shows', { name })}
        sandbox=""
        srcDoc={shown.page}
        className="min-h-0 w-full flex-1 border-t bg-white"
      />
    </>
  )
}

function Picture({ of, name }: { of: Blob; name: string }) {
  const [address, setAddress] = useState('')
  useEffect(() => {
    const made = URL.createObjectURL(of)
    setAddress(made)
    return () => URL.revokeObjectURL(made)
  }, [of])
  return (
    <div className="grid min-h-0 flex-1 place-items-center overflow-auto border-t bg-desk p-4">
      {address && <img src={address} alt={name} className="max-h-full max-w-full" />}
    </div>
  )
}
