// What is chosen about pages: which, on what paper, how they lie on its sides, how often, and what the PDF holds.
import type { ReactNode } from 'react'
import type { PaperLikes, Printer } from '../../core/contract'
import type { Section } from '../../core/paper/ranges'
import { Choice } from '../design/choice'
import { Button, Field } from '../design/controls'
import { t } from '../words/all'
import { Stacks } from './stacks'

type Change = (change: Partial<PaperLikes>) => void
const sizeNames = [
  ['a3', 'A3'],
  ['a4', 'A4'],
  ['a5', 'A5'],
  ['a6', 'A6'],
  ['b4', 'B4'],
  ['b5', 'B5'],
  ['letter', 'Letter'],
  ['legal', 'Legal'],
  ['tabloid', 'Tabloid'],
] as const
const asItIs = 'as it is'
/** A choice in which nothing chosen is a choice, too. */
const orNull = <T extends string>(value: T | null): T | typeof asItIs => value ?? asItIs
const fromChoice = <T extends string>(value: T | typeof asItIs): T | null => (value === asItIs ? null : value)
const yesNo = (value: boolean | null) => (value === null ? asItIs : value ? 'yes' : 'no')
const fromYesNo = (value: string) => (value === asItIs ? null : value === 'yes')

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="border-t py-3 first:border-t-0">
      <legend className="float-left mb-2 w-full text-[13px] font-semibold text-soft">{title}</legend>
      <div className="clear-both flex flex-wrap items-end gap-x-3 gap-y-2.5">{children}</div>
    </fieldset>
  )
}
function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex min-h-8 items-center gap-2 text-[14px] text-ink">
      <input
        type="checkbox"
        className="accent-accent"
        checked={on}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  )
}

/** What a file has a place for. */
const setsUp = ['size', 'landscape', 'margins', 'fit', 'gridLines', 'headings', 'across'] as const

export function ChoicesForm({
  likes,
  onChange,
  sheets,
  several,
  printer,
  sections,
  fault,
  plain,
  onFile,
  selected,
  onSelected,
  marked,
  onMarked,
}: {
  likes: PaperLikes
  onChange: Change
  /** It is a workbook, and has several sheets. */
  sheets: boolean
  several: boolean
  printer: Printer | undefined
  sections: readonly Section[]
  fault: string
  /** The PDF is as it was set: it is what its kind promises. */
  plain: boolean
  /** Has the work's own pages be as they are chosen; absent where they cannot. */
  onFile: (() => void) | undefined
  /** Only what is selected in the work; null where nothing can be. */
  selected: boolean | null
  onSelected: (on: boolean) => void
  /** What differs from now is marked; null where the work itself is on the pages. */
  marked: boolean | null
  onMarked: (on: boolean) => void
}) {
  const { paper, fold } = likes
  const onPaper = (change: Partial<PaperLikes['paper']>) => onChange({ paper: { ...paper, ...change } })
  const there = printer?.now?.sizes ?? []
  const turns = printer?.now?.sides
  return (
    <div className="px-4 pb-3">
      <Group title={t('paper.which-pages')}>
        {several && (
          <Choice
            label={t('paper.sheets')}
            value={likes.allSheets ? 'all' : 'one'}
            choices={[
              ['one', t('paper.this-sheet')],
              ['all', t('paper.all-sheets')],
            ]}
            onChange={(value) => onChange({ allSheets: value === 'all' })}
          />
        )}
        <Field
          className="min-w-0 flex-1 basis-40"
          label={t('paper.range')}
          placeholder={t('paper.range-like')}
          value={likes.range}
          list="paper-sections"
          {...(fault && { fault })}
          onChange={(event) => onChange({ range: event.target.value })}
        />
        <datalist id="paper-sections">
          {sections.map(({ title, page }) => (
            <option key={`${page} ${title}`} value={`"${title}"`} />
          ))}
        </datalist>
        <Choice
          label={t('paper.of-these')}
          value={likes.which}
          choices={[
            ['all', t('paper.all-of-them')],
            ['odd', t('paper.odd')],
            ['even', t('paper.even')],
          ]}
          onChange={(which) => onChange({ which })}
        />
        {marked !== null && <Tick label={t('paper.marked')} on={marked} onChange={onMarked} />}
        {selected !== null && <Tick label={t('paper.only-selected')} on={selected} onChange={onSelected} />}
        <Tick label={t('paper.reverse')} on={likes.reverse} onChange={(reverse) => onChange({ reverse })} />
      </Group>
      <Group title={t('paper.paper')}>
        <Choice
          label={t('paper.size')}
          value={orNull(paper.size)}
          choices={[
            [asItIs, t('paper.as-in-file')],
            ...sizeNames.map(
              ([size, words]) =>
                [
                  size,
                  there.length && !there.includes(size) ? t('paper.not-in-printer', { size: words }) : words,
                ] as const,
            ),
          ]}
          onChange={(size) => onPaper({ size: fromChoice(size) })}
        />
        <Choice
          label={t('paper.lies')}
          value={paper.landscape === null ? asItIs : paper.landscape ? 'wide' : 'tall'}
          choices={[
            [asItIs, t('paper.as-in-file')],
            ['tall', t('paper.upright')],
            ['wide', t('paper.lying')],
          ]}
          onChange={(value) => onPaper({ landscape: value === asItIs ? null : value === 'wide' })}
        />
        <Choice
          label={t('paper.margins')}
          value={orNull(paper.margins)}
          choices={[
            [asItIs, t('paper.as-in-file')],
            ['narrow', t('paper.narrow')],
            ['usual', t('paper.usual')],
            ['wide', t('paper.wide')],
          ]}
          onChange={(margins) => onPaper({ margins: fromChoice(margins) })}
        />
        {sheets && (
          <>
            <Choice
              label={t('paper.fit')}
              value={orNull(paper.fit)}
              choices={[
                [asItIs, t('paper.as-in-file')],
                ['full', t('paper.full-size')],
                ['width', t('paper.fit-width')],
                ['page', t('paper.fit-page')],
              ]}
              onChange={(fit) => onPaper({ fit: fromChoice(fit) })}
            />
            <Choice
              label={t('paper.grid-lines')}
              value={yesNo(paper.gridLines)}
              choices={[
                [asItIs, t('paper.as-in-file')],
                ['yes', t('paper.with')],
                ['no', t('paper.without')],
              ]}
              onChange={(value) => onPaper({ gridLines: fromYesNo(value) })}
            />
            <Choice
              label={t('paper.headings')}
              value={yesNo(paper.headings)}
              choices={[
                [asItIs, t('paper.as-in-file')],
                ['yes', t('paper.with')],
                ['no', t('paper.without')],
              ]}
              onChange={(value) => onPaper({ headings: fromYesNo(value) })}
            />
            <Choice
              label={t('paper.page-order')}
              value={yesNo(paper.across)}
              choices={[
                [asItIs, t('paper.as-in-file')],
                ['no', t('paper.down-first')],
                ['yes', t('paper.across-first')],
              ]}
              onChange={(value) => onPaper({ across: fromYesNo(value) })}
            />
          </>
        )}
        {onFile && setsUp.some((name) => paper[name] !== null) && (
          <div className="w-full">
            <Button
              onClick={() => {
                onFile()
                onPaper(Object.fromEntries(setsUp.map((name) => [name, null])))
              }}
            >
              {t('paper.into-the-file')}
            </Button>
          </div>
        )}
        <Tick label={t('paper.colours')} on={paper.colours} onChange={(colours) => onPaper({ colours })} />
        {printer?.now?.colour && (
          <Tick label={t('paper.in-colour')} on={likes.colour} onChange={(colour) => onChange({ colour })} />
        )}
      </Group>
      <Group title={t('paper.on-each-side')}>
        <Choice
          label={t('paper.layout')}
          value={fold ? 'booklet' : (String(likes.perSide) as '1')}
          choices={[
            ['1', t('paper.per-side', { pages: 1 })],
            ...(['2', '4', '6', '8', '9', '16'] as const).map(
              (pages) => [pages, t('paper.per-side', { pages: Number(pages) })] as const,
            ),
            ['booklet', t('paper.booklet')],
          ]}
          onChange={(value) =>
            onChange(
              value === 'booklet'
                ? { fold: { leaves: 0, margin: 8 }, perSide: 1 }
                : { fold: null, perSide: Number(value) as PaperLikes['perSide'] },
            )
          }
        />
        {fold && (
          <>
            <Choice
              label={t('paper.in-each-other')}
              value={String(fold.leaves) as '0'}
              choices={[
                ['0', t('paper.all-leaves')],
                ...(['2', '4', '8'] as const).map(
                  (leaves) => [leaves, t('paper.leaves', { leaves: Number(leaves) })] as const,
                ),
              ]}
              onChange={(leaves) => onChange({ fold: { ...fold, leaves: Number(leaves) } })}
            />
            <Choice
              label={t('paper.fold-margin')}
              value={String(fold.margin) as '0'}
              choices={(['0', '8', '20'] as const).map((margin) => [
                margin,
                t('paper.millimetres', { length: Math.round((Number(margin) * 25.4) / 72) }),
              ])}
              onChange={(margin) => onChange({ fold: { ...fold, margin: Number(margin) } })}
            />
          </>
        )}
        {!fold && likes.perSide > 1 && (
          <Choice
            label={t('paper.their-order')}
            value={likes.order}
            choices={[
              ['rows', t('paper.rows')],
              ['columns', t('paper.columns')],
              ['rows-from-right', t('paper.rows-from-right')],
              ['columns-from-right', t('paper.columns-from-right')],
            ]}
            onChange={(order) => onChange({ order })}
          />
        )}
        {(fold || likes.perSide > 1) && (
          <Tick label={t('paper.frames')} on={likes.frames} onChange={(frames) => onChange({ frames })} />
        )}
        {!fold && (
          <Choice
            label={t('paper.both-sides')}
            value={likes.sides}
            choices={[
              ['one', t('paper.one-side')],
              ['long', turns && !turns.includes('long') ? t('paper.by-hand') : t('paper.long-edge')],
              ...(turns && !turns.includes('short')
                ? []
                : ([
                    ['short', t('paper.short-edge')],
                    ['hand', t('paper.by-hand')],
                  ] as const)),
            ]}
            onChange={(sides) => onChange({ sides })}
          />
        )}
      </Group>
      <Group title={t('paper.copies')}>
        <Field
          className="w-20"
          label={t('paper.how-many')}
          type="number"
          min={1}
          max={999}
          value={likes.copies}
          onChange={(event) => {
            const copies = Math.round(Number(event.target.value))
            if (copies >= 1 && copies <= 999) onChange({ copies })
          }}
        />
        <Tick label={t('paper.collate')} on={likes.collate} onChange={(collate) => onChange({ collate })} />
        <Stacks collate={likes.collate} />
      </Group>
      <Group title={t('paper.in-the-pdf')}>
        <Choice
          label={t('paper.what-for')}
          value={likes.standard}
          choices={[
            ['plain', t('paper.plain')],
            ['archive', t('paper.archive')],
            ['accessible', t('paper.accessible')],
          ]}
          onChange={(standard) => onChange({ standard })}
        />
        {!sheets && (
          <Choice
            label={t('paper.remarks')}
            value={paper.remarks}
            choices={[
              ['none', t('paper.remarks-none')],
              ['margin', t('paper.remarks-margin')],
              ['notes', t('paper.remarks-notes')],
            ]}
            onChange={(remarks) => onPaper({ remarks })}
          />
        )}
        <Tick label={t('paper.corner')} on={paper.corner} onChange={(corner) => onPaper({ corner })} />
        {likes.standard !== 'accessible' && (
          <Tick
            label={t('paper.properties')}
            on={paper.properties}
            onChange={(properties) => onPaper({ properties })}
          />
        )}
        {!sheets && paper.remarks === 'notes' && (likes.perSide > 1 || fold) && (
          <p className="w-full text-[13px] leading-[18px] text-rust">{t('paper.notes-not-on-sides')}</p>
        )}
        {!plain && likes.standard !== 'plain' && (
          <p className="w-full text-[13px] leading-[18px] text-rust">{t('paper.only-as-set')}</p>
        )}
      </Group>
    </div>
  )
}
