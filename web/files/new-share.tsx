import { useQueryClient } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { checkName } from '../../core/naming/check'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useOffer } from '../design/commands'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { useStillHere } from '../design/still-here'
import { t, told, toldFields } from '../words'

/** Makes a share; for administrators. @param open there is none yet: this is what to do first */
export function NewShare({ open = false }: { open?: boolean }) {
  const [asking, setAsking] = useState(false)
  useOffer([{ id: 'new share', label: t('files.new-share'), group: t('common.begin'), run: () => setAsking(true) }])
  return (
    <>
      {open ? (
        <Button look="main" onClick={() => setAsking(true)}>
          {t('files.new-share')}
        </Button>
      ) : (
        <li>
          <button
            type="button"
            className="flex w-full items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2 text-soft hover:bg-wash"
            onClick={() => setAsking(true)}
          >
            <Plus size={17} aria-hidden /> {t('files.new-share')}
          </button>
        </li>
      )}
      {asking && <Ask onClose={() => setAsking(false)} />}
    </>
  )
}

function Ask({ onClose }: { onClose: () => void }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const here = useStillHere()
  const [name, setName] = useState('')
  const [refusal, setRefusal] = useState('')
  const fault = name ? checkName(name) : null
  const make = async () => {
    if (!name.trim() || fault) return
    try {
      const share = await call('newShare', { body: { name: name.trim(), description: '' } })
      await client.invalidateQueries({ queryKey: keys.shares() })
      onClose()
      // Whom it is for comes next.
      if (here()) void navigate(`/access/${share.id}`)
    } catch (error) {
      setRefusal(
        error instanceof Refused
          ? (toldFields(error.problem).name ?? told(error.problem))
          : t('common.it-could-not-be-made'),
      )
    }
  }
  return (
    <Question
      title={t('files.new-share')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!name.trim() || !!fault} onClick={make}>
            {t('common.make-it')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <Field
        label={t('files.name-of-the-share')}
        autoFocus
        value={name}
        hint={t('files.you-manage-it-and-give-others-a-right')}
        fault={refusal || (fault ? told(fault.reason) : '')}
        onChange={(event) => {
          setName(event.target.value)
          setRefusal('')
        }}
        onKeyDown={(event) => event.key === 'Enter' && void make()}
      />
    </Question>
  )
}
