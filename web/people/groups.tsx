import { useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { X } from 'lucide-react'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { toast } from 'sonner'
import type { Group, Member, Subject } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button, Field } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { Question } from '../design/overlay'
import { useStillHere } from '../design/still-here'
import { t, told } from '../words/all'
import { ChooseSubject, SubjectGlyph } from './choose-subject'
import { sentence } from './said'

/** What is not there yet. */
const fresh: Group = { id: '', name: '', people: [], groups: [], grants: 0 }

export function Groups() {
  const groups = useQuery(queries.groups)
  const [query, setQuery] = useSearchParams()
  const at = query.get('group')
  const chosen = at === 'new' ? fresh : groups.data?.find(({ id }) => id === at)
  const choose = (id: string | null) => setQuery(id ? { group: id } : {}, { replace: true })
  if (groups.isError)
    return (
      <Blank title={t('common.the-server-does-not-answer-right-now')}>
        <Button look="main" onClick={() => groups.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (!groups.data) return <Blank title={t('common.one-moment')} waiting />
  return (
    <div className="flex min-h-0 flex-1 flex-col md:flex-row">
      <div
        className={clsx('relative min-h-0 min-w-0 flex-1 overflow-auto px-4 py-4 md:px-6', chosen && 'max-md:hidden')}
      >
        <Button look="main" className="h-9" onClick={() => choose('new')}>
          {t('people.new-group')}
        </Button>
        {groups.data.length === 0 && <p className="max-w-md py-6 text-soft">{t('people.no-groups-yet')}</p>}
        <ul className="mt-4 max-w-2xl">
          {groups.data.map((one) => (
            <li key={one.id}>
              <button
                type="button"
                aria-pressed={one.id === chosen?.id}
                onClick={() => choose(one.id === chosen?.id ? null : one.id)}
                className={clsx(
                  'block w-full border-b px-3 py-2.5 text-left hover:bg-wash',
                  one.id === chosen?.id && 'bg-wash',
                )}
              >
                <span className="block font-medium">{one.name}</span>
                <span className="block text-[14px] text-soft">
                  {t('people.group-holds', {
                    people: one.people.length,
                    groups: one.groups.length,
                    grants: one.grants,
                  })}
                </span>
              </button>
            </li>
          ))}
        </ul>
      </div>
      {chosen && (
        <GroupEditor key={chosen.id} group={chosen} onDone={(id) => choose(id)} onClose={() => choose(null)} />
      )}
    </div>
  )
}

function GroupEditor({ group, onDone, onClose }: { group: Group; onDone: (id: string) => void; onClose: () => void }) {
  const client = useQueryClient()
  const here = useStillHere()
  const [name, setName] = useState(group.name)
  const [members, setMembers] = useState<Subject[]>([
    ...group.groups.map((one) => ({ ...one, kind: 'group' as const })),
    ...group.people.map(({ id, name: called }) => ({ id, name: called, kind: 'person' as const })),
  ])
  const [fault, setFault] = useState<{ name?: string; other?: string }>({})
  const [ending, setEnding] = useState(false)
  const settled = async () => {
    await client.invalidateQueries({ queryKey: keys.groups() })
    await client.invalidateQueries({ queryKey: keys.directory() })
    await client.invalidateQueries({ queryKey: keys.people() })
  }
  const tried = async (what: () => Promise<void>) => {
    try {
      await what()
      setFault({})
    } catch (error) {
      const named = error instanceof Refused && error.problem.fields?.name
      setFault(named ? { name: told(named) } : { other: sentence(error) })
    }
    await settled()
  }
  const save = () =>
    tried(async () => {
      const body = {
        name,
        members: members.map(({ kind, id }): Member => (kind === 'person' ? { personId: id } : { groupId: id })),
      }
      if (group.id) {
        await call('changeGroup', { params: { groupId: group.id }, body })
        toast(t('people.changed'))
      } else {
        const { id } = await call('newGroup', { body })
        await settled()
        if (here()) onDone(id)
      }
    })
  return (
    <section
      className="relative min-h-0 w-full shrink-0 overflow-auto border-l px-4 pb-8 md:w-[400px] md:px-6"
      aria-label={group.name || t('people.new-group')}
    >
      <div className="flex items-start gap-3 py-5">
        <h2 className="min-w-0 flex-1 text-[20px] font-semibold leading-7">{group.name || t('people.new-group')}</h2>
        <IconButton label={t('people.close-this')} onClick={onClose}>
          <X />
        </IconButton>
      </div>
      <form
        noValidate
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        <Field
          label={t('people.name')}
          autoComplete="off"
          autoFocus={!group.id}
          value={name}
          fault={fault.name}
          onChange={(event) => setName(event.target.value)}
        />
        <ChooseSubject
          label={t('people.put-into-it')}
          without={[group.id, ...members.map(({ id }) => id)]}
          onChoose={(subject) => setMembers([...members, subject])}
        />
        {members.length === 0 && <p className="text-soft">{t('people.nobody-is-in-it')}</p>}
        <ul aria-label={t('people.in-this-group')}>
          {members.map((one) => (
            <li key={one.id} className="flex min-h-10 items-center gap-2.5 border-b last:border-b-0">
              <SubjectGlyph kind={one.kind} />
              <span className="min-w-0 flex-1 truncate">{one.name}</span>
              <IconButton
                label={t('people.take-out', { name: one.name })}
                onClick={() => setMembers(members.filter(({ id }) => id !== one.id))}
              >
                <X />
              </IconButton>
            </li>
          ))}
        </ul>
        {fault.other && (
          <p role="alert" className="text-rust">
            {fault.other}
          </p>
        )}
        <div className="flex gap-2">
          <Button look="main" type="submit">
            {group.id ? t('people.save-this') : t('people.make-the-group')}
          </Button>
          {group.id && (
            <Button look="warning" onClick={() => setEnding(true)}>
              {t('people.end-the-group')}
            </Button>
          )}
        </div>
      </form>
      {ending && (
        <Question
          title={t('people.end-the-group-called', { name: group.name })}
          onClose={() => setEnding(false)}
          answers={
            <>
              <Button
                look="warning"
                onClick={() => {
                  setEnding(false)
                  void tried(async () => {
                    await call('endGroup', { params: { groupId: group.id } })
                    onClose()
                  })
                }}
              >
                {t('people.end-the-group')}
              </Button>
              <Button onClick={() => setEnding(false)}>{t('people.keep-it')}</Button>
            </>
          }
        >
          {t('people.what-it-was-given-ends', { grants: group.grants })}
        </Question>
      )}
    </section>
  )
}
