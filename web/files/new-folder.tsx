import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { Place } from '../../core/contract'
import { checkName, correctName, nameKey } from '../../core/naming/check'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { t, told } from '../words'

export function NewFolder({
  place,
  folderId,
  onClose,
}: {
  place: Place
  folderId: string | null
  onClose: () => void
}) {
  const client = useQueryClient()
  const [name, setName] = useState('')
  const [refusal, setRefusal] = useState('')
  const fault = name ? checkName(name) : null
  const correction = fault ? correctName(name) : null
  const there = place.entries.some((entry) => nameKey(entry.name) === nameKey(name.trim()))
  const make = async () => {
    if (!name.trim() || fault || there) return
    try {
      await call('newFolder', { body: { shareId: place.share.id, folderId, name: name.trim() } })
      await client.invalidateQueries({ queryKey: keys.place(place.share.id) })
      onClose()
    } catch (error) {
      setRefusal(error instanceof Refused ? told(error.problem) : t('common.it-could-not-be-made'))
    }
  }
  return (
    <Question
      title={t('files.new-folder-in', { it: place.trail.at(-1)?.name ?? place.share.name })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!name.trim() || !!fault || there} onClick={make}>
            {t('common.make-it')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <Field
        label={t('common.name')}
        autoFocus
        value={name}
        onChange={(event) => {
          setName(event.target.value)
          setRefusal('')
        }}
        onKeyDown={(event) => event.key === 'Enter' && void make()}
        fault={
          fault ? (
            <>
              {fault.reason}{' '}
              {correction && (
                <button type="button" className="underline" onClick={() => setName(correction)}>
                  {t('files.use', { correction })}
                </button>
              )}
            </>
          ) : there ? (
            t('files.this-name-is-taken-here')
          ) : (
            refusal
          )
        }
      />
    </Question>
  )
}
