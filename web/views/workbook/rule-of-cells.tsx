// What may be entered into the selected cells, beside the tools: said in a form, and set when it is finished.
import { useId, useMemo, useState } from 'react'
import {
  cellsAgainst,
  type EntryRule,
  longestList,
  longestText,
  type RuleCondition,
  type RuleKind,
  type RuleOutcome,
  type RuleTest,
  ruleAt,
  ruleTests,
  withRule,
} from '../../../core/content/entry-rules'
import { largestSheet, type MergedArea, type Sheet, usedSize } from '../../../core/content/workbook'
import { Choice } from '../../design/choice'
import { Button, Field } from '../../design/controls'
import { t } from '../../words/all'
import { LookPanel } from '../look-fields'
import type { GridPlace } from './grid'
import { anchored, areasText, hasTwo, limitFrom, limitText, listText, ruleSays, rulesView } from './rules'
import type { ShownWorkbook } from './still'

type Kind = RuleKind | 'other'
const kinds: readonly (readonly [RuleKind, string])[] = [
  ['one of', t('sheet.rule-kind-list')],
  ['whole number', t('sheet.rule-kind-whole')],
  ['number', t('sheet.rule-kind-number')],
  ['date', t('sheet.rule-kind-date')],
  ['time', t('sheet.rule-kind-time')],
  ['length', t('sheet.rule-kind-length')],
  ['formula', t('sheet.rule-kind-formula')],
  ['anything', t('sheet.rule-kind-anything')],
]
const tests: Record<RuleTest, string> = {
  between: t('sheet.rule-between'),
  'not between': t('sheet.rule-not-between'),
  is: t('sheet.rule-is'),
  'is not': t('sheet.rule-is-not'),
  above: t('sheet.rule-above'),
  'at least': t('sheet.rule-at-least'),
  below: t('sheet.rule-below'),
  'at most': t('sheet.rule-at-most'),
}
const outcomes: readonly (readonly [RuleOutcome, string])[] = [
  ['refused', t('sheet.rule-refused')],
  ['asked', t('sheet.rule-asked')],
  ['told', t('sheet.rule-noticed')],
  ['taken', t('sheet.rule-taken')],
]

interface Form {
  kind: Kind
  source: 'written' | 'cells'
  choices: string
  from: string
  shown: boolean
  test: RuleTest
  first: string
  second: string
  formula: string
  empty: boolean
  otherwise: RuleOutcome
  hint: string
  fault: string
  rule: EntryRule | undefined
}
function formOf(rule: EntryRule | undefined): Form {
  const condition = rule?.condition
  const list = condition?.kind === 'one of' ? condition.choices : []
  const limits = condition && 'limits' in condition ? condition : null
  return {
    kind: condition?.kind ?? 'one of',
    source: 'from' in list ? 'cells' : 'written',
    choices: 'from' in list ? '' : list.join('\n'),
    from: 'from' in list ? listText(list.from) : '',
    shown: condition?.kind === 'one of' ? condition.shown : true,
    test: limits?.test ?? 'between',
    first: limits ? limitText(limits.kind, limits.limits[0]) : '',
    second: limits?.limits[1] === undefined ? '' : limitText(limits.kind, limits.limits[1]),
    formula: condition?.kind === 'formula' ? condition.formula : '',
    empty: rule?.empty ?? true,
    otherwise: rule?.otherwise ?? 'refused',
    hint: rule?.hint?.text ?? '',
    fault: rule?.fault?.text ?? '',
    rule,
  }
}

/** @returns the condition, or why there is none: of which field, and in words */
function conditionOf(
  form: Form,
  store: ShownWorkbook,
): { condition: RuleCondition } | { field: 'list' | 'first' | 'second'; why: string } {
  const { kind } = form
  if (kind === 'other') return { condition: form.rule!.condition }
  if (kind === 'anything') return { condition: { kind } }
  if (kind === 'formula') {
    const formula = form.formula.trim().replace(/^=/, '')
    return formula ? { condition: { kind, formula } } : { field: 'first', why: t('sheet.rule-needs-formula') }
  }
  if (kind === 'one of') {
    if (form.source === 'cells') {
      const was = form.rule?.condition
      const own = was?.kind === 'one of' && 'from' in was.choices ? was.choices.from : null
      const typed = form.from.trim().replace(/^=/, '')
      const from = own !== null && typed === listText(own) ? own : anchored(typed)
      return from
        ? { condition: { kind, choices: { from }, shown: form.shown } }
        : { field: 'list', why: t('sheet.rule-needs-cells') }
    }
    const choices = [...new Set(form.choices.split('\n').map((one) => one.trim()))].filter((one) => one !== '')
    if (!choices.length) return { field: 'list', why: t('sheet.rule-needs-choices') }
    if (choices.some((one) => one.includes(',')) || choices.join(',').length > longestList)
      return { field: 'list', why: t('sheet.rule-list-too-long', { n: longestList }) }
    return { condition: { kind, choices, shown: form.shown } }
  }
  const first = limitFrom(form.first, store)
  if (first === null) return { field: 'first', why: t('sheet.rule-needs-limit') }
  if (!hasTwo(form.test)) return { condition: { kind, test: form.test, limits: [first] } }
  const second = limitFrom(form.second, store)
  if (second === null) return { field: 'second', why: t('sheet.rule-needs-limit') }
  return { condition: { kind, test: form.test, limits: [first, second] } }
}

/** So many rows and columns behind those that are used. */
const behind = { rows: 1000, columns: 100 }
/** What is selected, as an area; whole columns and rows to their ends. @param used where they end near what is used */
const areaOf = (
  { block, wholeColumns, wholeRows }: GridPlace,
  used: { rows: number; columns: number } | null,
): MergedArea => {
  const end = used
    ? { rows: used.rows + behind.rows, columns: used.columns + behind.columns }
    : { rows: largestSheet.rows, columns: largestSheet.columns }
  return {
    top: wholeColumns.length ? 0 : block.y,
    left: wholeRows.length ? 0 : block.x,
    bottom: wholeColumns.length ? Math.min(end.rows, largestSheet.rows) - 1 : block.y + block.height - 1,
    right: wholeRows.length ? Math.min(end.columns, largestSheet.columns) - 1 : block.x + block.width - 1,
  }
}

export function RuleOfCells({
  store,
  index,
  place,
  near,
  onSet,
  onGoTo,
  onClose,
}: {
  store: ShownWorkbook
  index: number
  place: GridPlace
  /** Whole columns and rows end some way behind what is used. */
  near: boolean
  onSet: (rules: readonly EntryRule[]) => void
  onGoTo: (row: number, column: number) => void
  onClose: () => void
}) {
  const sheet = store.workbook.sheets[index]!
  const here = ruleAt(sheet, place.row, place.column)
  const [changed, setChanged] = useState<Form | null>(null)
  const [fault, setFault] = useState<{ field: string; why: string } | null>(null)
  const form = changed ?? formOf(here)
  const set = (part: Partial<Form>) => {
    setFault(null)
    setChanged({ ...form, ...part })
  }
  const listId = useId()
  const area = areaOf(place, near ? usedSize(sheet) : null)
  const one = area.top === area.bottom && area.left === area.right
  // A cell stands for all cells of its rule: to say something else of a part, that part is selected.
  const areas = one && here ? here.areas : [area]
  const text = areasText(areas)
  const submit = (event: React.FormEvent) => {
    event.preventDefault()
    const found = conditionOf(form, store)
    if ('why' in found) return setFault(found)
    const words = (own: 'hint' | 'fault') => {
      const title = form.rule?.[own]?.title
      const said = form[own].trim().slice(0, longestText)
      return said || title ? { [own]: { ...(title && { title }), ...(said && { text: said }) } } : {}
    }
    onSet(
      withRule(sheet.rules, areas, {
        condition: found.condition,
        empty: form.empty,
        otherwise: form.otherwise,
        ...words('hint'),
        ...words('fault'),
      }),
    )
    setChanged(null)
  }
  const tick = (label: string, value: boolean, onChange: (value: boolean) => void) => (
    <label className="flex items-center gap-2 text-[14px]">
      <input
        type="checkbox"
        className="size-4 accent-accent"
        checked={value}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  )
  const compared =
    form.kind !== 'one of' && form.kind !== 'anything' && form.kind !== 'formula' && form.kind !== 'other'
  return (
    <LookPanel label={t('sheet.what-may-be-entered')} onClose={onClose}>
      <p className="pb-3 text-[14px]" aria-live="polite">
        <span className="block font-mono">{text}</span>
        <span className="text-soft">{here ? ruleSays(here) : t('sheet.rule-anything')}</span>
      </p>
      {sheet.rules && (
        <Against store={store} sheet={sheet} index={index} rules={sheet.rules} place={place} onGoTo={onGoTo} />
      )}
      <form onSubmit={submit} className="flex flex-col gap-2.5 border-t pt-3">
        <Choice
          label={t('sheet.rule-entry-is')}
          first
          value={form.kind}
          choices={form.kind === 'other' ? [...kinds, ['other', t('sheet.rule-kind-other')]] : kinds}
          onChange={(kind: Kind) => set({ kind })}
        />
        {form.kind === 'one of' && (
          <>
            <Choice
              label={t('sheet.rule-list-is')}
              value={form.source}
              choices={[
                ['written', t('sheet.rule-list-written')],
                ['cells', t('sheet.rule-list-cells')],
              ]}
              onChange={(source) => set({ source })}
            />
            {form.source === 'cells' ? (
              <Field
                label={t('sheet.rule-list-where')}
                value={form.from}
                placeholder="Kinds!A2:A20"
                spellCheck={false}
                fault={fault?.field === 'list' && fault.why}
                onChange={(event) => set({ from: event.target.value })}
              />
            ) : (
              <div>
                <label htmlFor={listId} className="mb-1 block text-[13px] text-soft">
                  {t('sheet.rule-choices')}
                </label>
                <textarea
                  id={listId}
                  rows={3}
                  value={form.choices}
                  aria-invalid={fault?.field === 'list' || undefined}
                  aria-describedby={fault?.field === 'list' ? `${listId}-more` : undefined}
                  className={`max-h-48 min-h-18 w-full rounded-md border bg-sheet px-2.5 py-1.5 ${fault?.field === 'list' ? 'border-rust' : 'border-rule-strong'}`}
                  onChange={(event) => set({ choices: event.target.value })}
                />
                {fault?.field === 'list' && (
                  <div id={`${listId}-more`} role="alert" className="mt-1 text-[13px] leading-[18px] text-rust">
                    {fault.why}
                  </div>
                )}
              </div>
            )}
          </>
        )}
        {form.kind === 'formula' && (
          <Field
            label={t('sheet.rule-formula')}
            hint={t('sheet.rule-formula-kept')}
            value={form.formula}
            spellCheck={false}
            fault={fault?.field === 'first' && fault.why}
            onChange={(event) => set({ formula: event.target.value })}
          />
        )}
        {compared && (
          <>
            <Choice
              label={form.kind === 'length' ? t('sheet.rule-letters-are') : t('sheet.rule-it-is')}
              value={form.test}
              choices={ruleTests.map((test) => [test, tests[test]] as const)}
              onChange={(test) => set({ test })}
            />
            <div className="grid grid-cols-2 gap-2">
              <Field
                label={hasTwo(form.test) ? t('sheet.rule-from') : t('sheet.rule-limit')}
                value={form.first}
                fault={fault?.field === 'first' && fault.why}
                onChange={(event) => set({ first: event.target.value })}
              />
              {hasTwo(form.test) && (
                <Field
                  label={t('sheet.rule-to')}
                  value={form.second}
                  fault={fault?.field === 'second' && fault.why}
                  onChange={(event) => set({ second: event.target.value })}
                />
              )}
            </div>
          </>
        )}
        {form.kind !== 'anything' && (
          <>
            <Choice
              label={t('sheet.rule-otherwise')}
              value={form.otherwise}
              choices={outcomes}
              onChange={(otherwise) => set({ otherwise })}
            />
            {tick(t('sheet.rule-empty'), form.empty, (empty) => set({ empty }))}
            {form.kind === 'one of' && tick(t('sheet.rule-list-shown'), form.shown, (shown) => set({ shown }))}
          </>
        )}
        <Field
          label={t('sheet.rule-hint')}
          value={form.hint}
          maxLength={longestText}
          onChange={(event) => set({ hint: event.target.value })}
        />
        {form.kind !== 'anything' && (
          <Field
            label={t('sheet.rule-fault')}
            value={form.fault}
            maxLength={longestText}
            onChange={(event) => set({ fault: event.target.value })}
          />
        )}
        <div className="flex flex-wrap gap-2">
          <Button look="main" type="submit" className="max-w-full">
            <span className="truncate">{t('sheet.set-rule', { cells: text })}</span>
          </Button>
          {here && (
            <Button
              onClick={() => {
                onSet(withRule(sheet.rules, areas, null))
                setChanged(null)
              }}
            >
              {t('sheet.no-rule')}
            </Button>
          )}
        </div>
      </form>
    </LookPanel>
  )
}

/** Entries of the sheet that are something else than they may be, and a way to each. */
function Against({
  store,
  sheet,
  index,
  rules,
  place,
  onGoTo,
}: {
  store: ShownWorkbook
  sheet: Sheet
  index: number
  rules: readonly EntryRule[]
  place: GridPlace
  onGoTo: (row: number, column: number) => void
}) {
  const revision = store.snapshot()
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked through again when something is another, results as well
  const { against, unchecked } = useMemo(
    () => cellsAgainst(sheet, rules, rulesView(store, index)),
    [sheet, rules, index, revision],
  )
  const next =
    against.find(({ row, column }) => row > place.row || (row === place.row && column > place.column)) ?? against[0]
  return (
    <div className="border-t py-3 text-[14px]">
      <p aria-live="polite">{t('sheet.cells-against-rules', { n: against.length, unchecked })}</p>
      {next && (
        <Button className="mt-2" onClick={() => onGoTo(next.row, next.column)}>
          {t('sheet.next-against-rules')}
        </Button>
      )}
    </div>
  )
}
