// A convention is built by its parts. Every change shows at once what names look like, and what
// stands against it: an ambiguous convention is told with a name that could be read in two ways.
import { zodResolver } from '@hookform/resolvers/zod'
import { ArrowDown, ArrowLeft, ArrowUp, Plus, Trash2 } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useController, useForm } from 'react-hook-form'
import { toast } from 'sonner'
import {
  type ControlledList,
  type Convention,
  ConventionChange,
  type NamePart,
  type PartKind,
  type Rules,
  type Share,
} from '../../core/contract'
import type { RuleFault } from '../../core/naming/rules'
import { sentenceOf } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { Button, Field } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { Menu, MenuItem } from '../design/overlay'
import { T, t, told } from '../words/all'
import { namingWork } from '../workers/naming'
import { FolderRule } from './folder-rule'
import { newPart } from './new-part'
import { kindNames, PartEditor } from './part-editor'
import { Examples, Where } from './shown-rules'

const Written = ConventionChange.pick({ name: true, rules: true })

export function ConventionEditor({
  convention,
  lists,
  share,
  mayChange,
  onClose,
  onKept,
}: {
  convention: Convention
  lists: ControlledList[]
  share: Share
  mayChange: boolean
  onClose: () => void
  onKept: () => void
}) {
  const { register, control, formState, handleSubmit, setError } = useForm({
    defaultValues: { name: convention.name, rules: convention.rules },
    resolver: zodResolver(Written),
    mode: 'onChange',
  })
  const { errors, isDirty, isValid } = formState
  const { field } = useController({ control, name: 'rules' })
  const rules: Rules = field.value
  const setRules = (next: Rules) => field.onChange(next)
  const [faults, setFaults] = useState<RuleFault[]>([])
  const [checked, setChecked] = useState<Rules | null>(null)
  useEffect(() => {
    let gone = false
    void namingWork()
      .tryRules(rules, lists)
      .then((found) => {
        if (gone) return
        setFaults(found)
        setChecked(rules)
      })
    return () => {
      gone = true
    }
  }, [rules, lists])
  const setPart = (index: number, part: NamePart) =>
    setRules({ ...rules, parts: rules.parts.map((one, at) => (at === index ? part : one)) })
  const move = (index: number, by: number) => {
    const parts = [...rules.parts]
    const [part] = parts.splice(index, 1)
    parts.splice(index + by, 0, part!)
    setRules({ ...rules, parts })
  }
  const add = (kind: PartKind) => {
    let number = 1
    while (rules.parts.some(({ id }) => id === `part-${number}`)) number++
    setRules({ ...rules, parts: [...rules.parts, newPart(kind, `part-${number}`, lists)] })
  }
  const keep = handleSubmit(async (written) => {
    try {
      const next = await call('changeConvention', {
        params: { conventionId: convention.id },
        body: { ...written, number: convention.number },
      })
      toast(t('names.applies-as-version-from-now-on-names', { nextName: next.name, number: next.number }))
      onKept()
      onClose()
    } catch (error) {
      setError('root', {
        message: error instanceof Refused ? told(error.problem) : t('names.it-could-not-be-kept'),
      })
    }
  })
  const general = faults.filter(({ partId }) => !partId)
  return (
    <div className="h-full max-lg:overflow-auto lg:grid lg:grid-cols-[minmax(0,1fr)_300px]">
      <div className="min-w-0 px-4 py-5 md:px-6 lg:overflow-auto">
        <button
          type="button"
          className="mb-3 flex items-center gap-1.5 text-[14px] text-soft hover:text-ink"
          onClick={onClose}
        >
          <ArrowLeft size={15} aria-hidden /> {t('names.all-conventions-of', { shareName: share.name })}
        </button>
        <fieldset disabled={!mayChange} className="min-w-0">
          <Field
            label={t('names.name-of-the-convention')}
            className="mb-5 max-w-sm"
            {...register('name')}
            fault={errors.name?.message && told(sentenceOf(errors.name.message))}
          />
          <h2 className="pb-2 font-semibold">{t('names.parts-in-their-order')}</h2>
          <ol className="flex flex-col gap-2">
            {rules.parts.map((part, index) => (
              <li key={part.id} className="rounded-md border bg-paper px-3 py-2">
                <PartEditor
                  part={part}
                  first={index === 0}
                  lists={lists}
                  others={rules.parts.filter(({ id, kind }) => id !== part.id && kind !== 'counter' && kind !== 'text')}
                  faults={faults.filter(({ partId }) => partId === part.id)}
                  onChange={(next) => setPart(index, next)}
                >
                  <IconButton
                    label={t('names.move-up', { partLabel: part.label })}
                    className="size-7"
                    disabled={index === 0}
                    onClick={() => move(index, -1)}
                  >
                    <ArrowUp />
                  </IconButton>
                  <IconButton
                    label={t('names.move-down', { partLabel: part.label })}
                    className="size-7"
                    disabled={index === rules.parts.length - 1}
                    onClick={() => move(index, 1)}
                  >
                    <ArrowDown />
                  </IconButton>
                  <IconButton
                    label={t('names.remove', { partLabel: part.label })}
                    className="size-7"
                    disabled={rules.parts.length === 1}
                    onClick={() => setRules({ ...rules, parts: rules.parts.filter((one) => one !== part) })}
                  >
                    <Trash2 />
                  </IconButton>
                </PartEditor>
              </li>
            ))}
          </ol>
          <Menu
            align="start"
            trigger={
              <Button className="mt-2">
                <Plus size={16} aria-hidden />
                {t('names.add-a-part')}
              </Button>
            }
          >
            {(Object.keys(kindNames) as PartKind[]).map((kind) => (
              <MenuItem key={kind} onSelect={() => add(kind)}>
                {kindNames[kind]}
              </MenuItem>
            ))}
          </Menu>
          <h2 className="pb-1 pt-7 font-semibold">{t('names.filing-rule')}</h2>
          <p className="pb-2 text-[14px] text-soft">
            <T
              k="names.folders-below-one-in-the-other-a"
              v={{ where: <Where share={share} folderId={convention.folderId} /> }}
            />
          </p>
          <FolderRule rules={rules} onChange={setRules} />
        </fieldset>
      </div>
      <aside
        className="flex min-h-0 flex-col border-t bg-paper px-5 py-5 lg:border-l lg:border-t-0"
        aria-label={t('names.what-it-gives')}
      >
        <h2 className="font-semibold">{t('names.what-it-gives')}</h2>
        <Examples rules={rules} naming={{ conventions: [], lists }} />
        <ul
          className="flex min-h-0 flex-1 flex-col gap-2 overflow-auto pt-4 text-[14px]"
          aria-live="polite"
          data-testid="rule-faults"
        >
          {general
            .map(({ reason }) => told(reason))
            .map((reason) => (
              <li key={reason} className="text-rust">
                {reason}
              </li>
            ))}
          {checked === rules && faults.length === 0 && (
            <li className="text-soft">{t('names.every-name-it-gives-can-be-read')}</li>
          )}
        </ul>
        {errors.root?.message && (
          <p role="alert" className="pb-2 text-[14px] text-rust">
            {errors.root.message}
          </p>
        )}
        {mayChange && (
          <div className="flex gap-2 pt-3">
            <Button
              look="main"
              disabled={!isDirty || !isValid || checked !== rules || faults.length > 0}
              onClick={keep}
            >
              {t('names.use-it-from-now-on-as-version', { it: convention.number + 1 })}
            </Button>
          </div>
        )}
        {convention.earlier.length > 0 && (
          <p className="pt-3 text-[13px] leading-[18px] text-soft">
            {t('names.names-from-before-follow-the-version-of', { earlier: convention.earlier.length })}
          </p>
        )}
      </aside>
    </div>
  )
}
