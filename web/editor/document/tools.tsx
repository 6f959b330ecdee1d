import {
  AlignCenter,
  AlignJustify,
  AlignLeft,
  AlignRight,
  Baseline,
  Bold,
  Image,
  IndentDecrease,
  IndentIncrease,
  Italic,
  Link,
  List,
  ListOrdered,
  MessageSquareText,
  Omega,
  Redo2,
  Search,
  SeparatorHorizontal,
  Strikethrough,
  Table,
  TextQuote,
  Type,
  Underline,
  Undo2,
} from 'lucide-react'
import { lift as liftOut, toggleMark, wrapIn } from 'prosemirror-commands'
import { redo, redoDepth, undo, undoDepth } from 'prosemirror-history'
import type { NodeType } from 'prosemirror-model'
import { liftListItem, wrapInList } from 'prosemirror-schema-list'
import { type Command, type EditorState, NodeSelection, TextSelection } from 'prosemirror-state'
import {
  addColumnAfter,
  addColumnBefore,
  addRowAfter,
  addRowBefore,
  deleteColumn,
  deleteRow,
  deleteTable,
  isInTable,
  mergeCells,
  splitCell,
} from 'prosemirror-tables'
import type { EditorView } from 'prosemirror-view'
import { useRef } from 'react'
import { toast } from 'sonner'
import { documentSchema } from '../../../core/content/document'
import type { ParagraphLook } from '../../../core/content/paragraph-look'
import type { StyleLook } from '../../../core/formats/docx/style-looks'
import { useOffer } from '../../design/commands'
import { IconButton } from '../../design/icon-button'
import { Menu, MenuItem, MenuRule } from '../../design/overlay'
import { ToolRow } from '../../design/tool-row'
import { insertImage } from '../../views/document/images'
import { asKind, kindOfLook, usualKind } from '../../views/document/kinds'
import { insertPageBreak, lift, sink } from '../../views/document/plugins'
import { type CommonLook, commonLook, paragraphLookOf } from '../../views/document/text-look'
import { t } from '../../words/all'
import { withControl } from '../../words/formats'
import type { TableSize } from './table-question'

const { nodes, marks } = documentSchema

export interface PictureState {
  /** Pixels, 96 to the inch. */
  width: number
  height: number
  /** What it shows, for whoever cannot see it. */
  alt: string
}

/** What the tools show as on; made anew only when it changed, so that typing costs the tools nothing. */
export interface ToolState {
  strong: boolean
  em: boolean
  underline: boolean
  strike: boolean
  link: string | null
  block: string
  /** The file's own style that it has. */
  style: string | null
  /** Whether it is plain text, or in a quote. */
  plain: boolean
  quote: boolean
  align: string
  /** How all that is selected looks beside its style. */
  look: CommonLook
  paragraph: ParagraphLook
  list: string
  table: boolean
  /** The picture that is selected. */
  picture: PictureState | null
  undo: boolean
  redo: boolean
}

/** Styles of the file in the menu at most. */
const mostStyles = 24

export function toolState(state: EditorState): ToolState {
  const { $from, from, to, empty } = state.selection
  const on = (name: 'strong' | 'em' | 'underline' | 'strike') =>
    empty ? !!marks[name].isInSet(state.storedMarks ?? $from.marks()) : state.doc.rangeHasMark(from, to, marks[name])
  const heading = $from.parent.type === nodes.heading
  const quote = !heading && $from.depth > 1 && $from.node(-1).type === nodes.blockquote
  const block = heading
    ? t('document.heading', { level: $from.parent.attrs.level })
    : t(quote ? 'document.quote' : 'common.text')
  return {
    strong: on('strong'),
    em: on('em'),
    underline: on('underline'),
    strike: on('strike'),
    link: marks.link.isInSet($from.marks())?.attrs.href ?? null,
    block,
    style: $from.parent.attrs.style ?? null,
    plain: !heading && !quote,
    quote,
    align: $from.parent.attrs.align ?? 'left',
    look: commonLook(state),
    paragraph: paragraphLookOf(state),
    list: listAround(state)?.name ?? '',
    table: isInTable(state),
    picture: pictureIn(state),
    ...undoable(state),
  }
}
function pictureIn({ selection }: EditorState): PictureState | null {
  if (!(selection instanceof NodeSelection) || selection.node.type !== nodes.image) return null
  const { width, height, alt } = selection.node.attrs
  return { width, height, alt }
}
export const undoable = (state: EditorState): Pick<ToolState, 'undo' | 'redo'> => ({
  undo: undoDepth(state) > 0,
  redo: redoDepth(state) > 0,
})

/** The kind of the list that the cursor is in, the innermost. */
function listAround({ selection: { $from } }: EditorState): NodeType | null {
  for (let depth = $from.depth; depth > 0; depth--) {
    const { type } = $from.node(depth)
    if (type === nodes.bullet_list || type === nodes.ordered_list) return type
  }
  return null
}
/** Goes by what is there, not by what the tools show: these lag behind keys by a frame. */
const toggleList =
  (type: NodeType): Command =>
  (state, dispatch) => {
    if (listAround(state) === type) return liftListItem(nodes.list_item)(state, dispatch)
    return wrapInList(type)(state, dispatch)
  }

const alignTo =
  (align: string | null): Command =>
  (state, dispatch) => {
    const { from, to } = state.selection
    const tr = state.tr
    state.doc.nodesBetween(from, to, (node, at) => {
      if (node.isTextblock && node.attrs.align !== align) tr.setNodeMarkup(at, null, { ...node.attrs, align })
    })
    if (!tr.docChanged) return false
    dispatch?.(tr)
    return true
  }

/** A table where the caret is, which is in its first cell then. */
export const insertTable =
  ({ columns, rows, heads }: TableSize): Command =>
  (state, dispatch) => {
    if (isInTable(state)) return false
    const row = (_: unknown, at: number) =>
      nodes.table_row.create(
        { header: heads && at === 0 },
        Array.from({ length: columns }, () => nodes.table_cell.createAndFill()!),
      )
    const tr = state.tr.replaceSelectionWith(nodes.table.create(null, Array.from({ length: rows }, row)))
    const inside = tr.doc.resolve(Math.min(tr.doc.content.size, tr.mapping.map(state.selection.from, -1) + 4))
    dispatch?.(tr.setSelection(TextSelection.near(inside)).scrollIntoView())
    return true
  }

/** Removes the page break before the cursor's block or the one selected is done with Backspace; links are set here. */
export function setLink(view: EditorView, href: string | null): void {
  const { state } = view
  let { from, to } = state.selection
  if (state.selection.empty) {
    // Inside a link without a selection: the whole link.
    const { $from } = state.selection
    const old = marks.link.isInSet($from.marks())
    if (!old) {
      if (href)
        view.dispatch(state.tr.replaceSelectionWith(documentSchema.text(href, [marks.link.create({ href })]), false))
      return
    }
    const start = $from.start()
    $from.parent.forEach((node, offset) => {
      if (!old.isInSet(node.marks)) return
      if (start + offset <= from) from = Math.min(from, start + offset)
      if (start + offset + node.nodeSize >= to) to = Math.max(to, start + offset + node.nodeSize)
    })
  }
  const tr = state.tr.removeMark(from, to, marks.link)
  if (href) tr.addMark(from, to, marks.link.create({ href }))
  view.dispatch(tr)
}

/** The upright rail of tools beside the page. */
export function DocumentTools({
  view,
  page,
  looks,
  on,
  onFind,
  onLink,
  looking,
  onLooks,
  pictured,
  onPicture,
  onTable,
  remarking,
  onRemarks,
  signing,
  onSigns,
  plain,
}: {
  /** What is being written in: the page, or an edge of it. */
  view: EditorView
  page: EditorView
  looks: readonly StyleLook[]
  on: ToolState
  onFind: () => void
  onLink: () => void
  /** The look of the text is beside the tools. */
  looking: boolean
  onLooks: () => void
  /** What there is to say of the picture is beside the tools. */
  pictured: boolean
  onPicture: (shown: boolean) => void
  onTable: () => void
  /** Notes and comments are beside the tools; null where the file has no place for them. */
  remarking: boolean
  onRemarks: (() => void) | null
  /** Signs that no key has are beside the tools. */
  signing: boolean
  onSigns: () => void
  /** A text has no looks to choose. */
  plain: boolean
}) {
  const picker = useRef<HTMLInputElement>(null)
  const run = (command: Command) => {
    command(view.state, view.dispatch, view)
    view.focus()
  }
  // Of all of the document, wherever the caret is.
  const ofPage =
    (command: Command): Command =>
    () =>
      command(page.state, page.dispatch, page)
  const tool = (
    label: string,
    icon: React.ReactNode,
    command: Command,
    extra: { keys?: string; pressed?: boolean; disabled?: boolean } = {},
  ) => (
    <IconButton
      key={label}
      label={label}
      side="right"
      onMouseDown={(event) => event.preventDefault()}
      onClick={() => run(command)}
      {...extra}
    >
      {icon}
    </IconButton>
  )
  const group = t('common.this-file')
  const offer = (id: string, label: string, command: Command, keys?: string) => ({
    id: `tool ${id}`,
    label,
    group,
    ...(keys && { keys, heard: true }),
    run: () => run(command),
  })
  useOffer(
    plain
      ? []
      : [
          offer('bold', t('common.bold'), toggleMark(marks.strong), 'Mod+B'),
          offer('italic', t('common.italic'), toggleMark(marks.em), 'Mod+I'),
          offer('underline', t('document.underline'), toggleMark(marks.underline), 'Mod+U'),
          offer('strike', t('document.strike-through'), toggleMark(marks.strike), 'Alt+Shift+D'),
          offer('bullets', t('document.bullets'), toggleList(nodes.bullet_list)),
          offer('numbers', t('document.numbers'), toggleList(nodes.ordered_list)),
          offer('quote', t('document.quote'), on.quote ? liftOut : wrapIn(nodes.blockquote)),
          ...(on.table
            ? [
                offer('row above', t('document.row-above'), addRowBefore),
                offer('row below', t('document.row-below'), addRowAfter),
                offer('column left', t('document.column-to-the-left'), addColumnBefore),
                offer('column right', t('document.column-to-the-right'), addColumnAfter),
                offer('join cells', t('document.join-cells'), mergeCells),
                offer('split cell', t('document.split-cell'), splitCell),
                offer('remove row', t('document.remove-row'), deleteRow),
                offer('remove column', t('document.remove-column'), deleteColumn),
                offer('remove table', t('document.remove-table'), deleteTable),
              ]
            : [{ id: 'tool table', label: t('document.insert-table'), group, run: onTable }]),
          { id: 'tool image', label: t('document.insert-image'), group, run: () => picker.current?.click() },
          ...(view === page ? [offer('page', t('common.new-page'), insertPageBreak, 'Mod+Enter')] : []),
        ],
  )
  const own = on.style === null ? undefined : looks.find(({ id }) => id === on.style)
  // Those that somebody may choose, and the one that is there.
  const offered = looks.filter((look) => look.offered || look === own).slice(0, mostStyles)
  const rule = <div className="mx-auto my-1 w-5 shrink-0 border-t" aria-hidden />
  const row = (children: React.ReactNode) => (
    <ToolRow
      upright
      label={t('document.document-tools')}
      className="flex w-11 shrink-0 flex-col items-center overflow-y-auto border-r bg-paper py-2"
    >
      {tool(t('common.undo'), <Undo2 />, ofPage(undo), { keys: withControl('Z'), disabled: !on.undo })}
      {tool(t('common.redo'), <Redo2 />, ofPage(redo), { keys: withControl('Y'), disabled: !on.redo })}
      {rule}
      {children}
      <IconButton label={t('signs.title')} side="right" pressed={signing} onClick={onSigns}>
        <Omega />
      </IconButton>
      <IconButton label={t('document.find-and-replace')} keys={withControl('F')} side="right" onClick={onFind}>
        <Search />
      </IconButton>
    </ToolRow>
  )
  if (plain) return row(null)
  return row(
    <>
      <Menu
        align="start"
        returnTo={() => view.focus()}
        trigger={
          <IconButton
            label={t('document.paragraph', { block: own?.name ?? on.block })}
            side="right"
            pressed={!on.plain || !!own}
          >
            <Type />
          </IconButton>
        }
      >
        <MenuItem keys={'Alt+Shift+0'} onSelect={() => run(on.quote ? liftOut : asKind(usualKind(0), () => looks))}>
          {t('common.text')}
        </MenuItem>
        {[1, 2, 3, 4].map((level) => (
          <MenuItem key={level} keys={`Alt+Shift+${level}`} onSelect={() => run(asKind(usualKind(level), () => looks))}>
            {t('document.heading', { level })}
          </MenuItem>
        ))}
        {offered.length > 0 && <MenuRule />}
        {offered.map((look) => (
          <MenuItem key={look.id} onSelect={() => run(asKind(kindOfLook(look), () => looks))}>
            {look.name}
          </MenuItem>
        ))}
      </Menu>
      {tool(t('common.bold'), <Bold />, toggleMark(marks.strong), { keys: withControl('B'), pressed: on.strong })}
      {tool(t('common.italic'), <Italic />, toggleMark(marks.em), { keys: withControl('I'), pressed: on.em })}
      {tool(t('document.underline'), <Underline />, toggleMark(marks.underline), {
        keys: withControl('U'),
        pressed: on.underline,
      })}
      {tool(t('document.strike-through'), <Strikethrough />, toggleMark(marks.strike), {
        keys: 'Alt+Shift+D',
        pressed: on.strike,
      })}
      <IconButton label={t('document.look-of-text')} keys="Alt+L" side="right" pressed={looking} onClick={onLooks}>
        <Baseline />
      </IconButton>
      <IconButton label={t('common.link')} side="right" pressed={on.link !== null} onClick={onLink}>
        <Link />
      </IconButton>
      {rule}
      {tool(t('document.bullets'), <List />, toggleList(nodes.bullet_list), {
        pressed: on.list === 'bullet_list',
      })}
      {tool(t('document.numbers'), <ListOrdered />, toggleList(nodes.ordered_list), {
        pressed: on.list === 'ordered_list',
      })}
      {on.list && tool(t('document.deeper'), <IndentIncrease />, sink, { keys: 'Tab' })}
      {on.list && tool(t('document.less-deep'), <IndentDecrease />, lift, { keys: 'Shift+Tab' })}
      {tool(t('document.quote'), <TextQuote />, on.quote ? liftOut : wrapIn(nodes.blockquote), {
        pressed: on.quote,
      })}
      <Menu
        align="start"
        returnTo={() => view.focus()}
        trigger={
          <IconButton label={t('document.alignment', { align: on.align })} side="right">
            {on.align === 'center' ? (
              <AlignCenter />
            ) : on.align === 'right' ? (
              <AlignRight />
            ) : on.align === 'justify' ? (
              <AlignJustify />
            ) : (
              <AlignLeft />
            )}
          </IconButton>
        }
      >
        <MenuItem onSelect={() => run(alignTo(null))}>
          <AlignLeft />
          {t('common.left')}
        </MenuItem>
        <MenuItem onSelect={() => run(alignTo('center'))}>
          <AlignCenter />
          {t('common.centre')}
        </MenuItem>
        <MenuItem onSelect={() => run(alignTo('right'))}>
          <AlignRight />
          {t('common.right')}
        </MenuItem>
        <MenuItem onSelect={() => run(alignTo('justify'))}>
          <AlignJustify />
          {t('document.both-sides')}
        </MenuItem>
      </Menu>
      {rule}
      {on.table ? (
        <Menu
          align="start"
          returnTo={() => view.focus()}
          trigger={
            <IconButton label={t('document.table')} side="right" pressed>
              <Table />
            </IconButton>
          }
        >
          <MenuItem onSelect={() => run(addRowBefore)}>{t('document.row-above')}</MenuItem>
          <MenuItem onSelect={() => run(addRowAfter)}>{t('document.row-below')}</MenuItem>
          <MenuItem onSelect={() => run(addColumnBefore)}>{t('document.column-to-the-left')}</MenuItem>
          <MenuItem onSelect={() => run(addColumnAfter)}>{t('document.column-to-the-right')}</MenuItem>
          <MenuItem onSelect={() => run(mergeCells)}>{t('document.join-cells')}</MenuItem>
          <MenuItem onSelect={() => run(splitCell)}>{t('document.split-cell')}</MenuItem>
          <MenuRule />
          <MenuItem onSelect={() => run(deleteRow)}>{t('document.remove-row')}</MenuItem>
          <MenuItem onSelect={() => run(deleteColumn)}>{t('document.remove-column')}</MenuItem>
          <MenuItem onSelect={() => run(deleteTable)}>{t('document.remove-table')}</MenuItem>
        </Menu>
      ) : (
        <IconButton label={t('document.insert-table')} side="right" onClick={onTable}>
          <Table />
        </IconButton>
      )}
      {on.picture ? (
        <IconButton label={t('document.picture')} side="right" pressed={pictured} onClick={() => onPicture(!pictured)}>
          <Image />
        </IconButton>
      ) : (
        <IconButton label={t('document.insert-image')} side="right" onClick={() => picker.current?.click()}>
          <Image />
        </IconButton>
      )}
      {onRemarks && (
        <IconButton label={t('document.remarks')} keys="Alt+J" side="right" pressed={remarking} onClick={onRemarks}>
          <MessageSquareText />
        </IconButton>
      )}
      <input
        ref={picker}
        type="file"
        accept="image/png,image/jpeg,image/gif"
        className="hidden"
        aria-label={t('document.choose-an-image')}
        onChange={async (event) => {
          const file = event.target.files?.[0]
          event.target.value = ''
          const fault = file && (await insertImage(view, file))
          if (fault) toast.error(fault)
          view.focus()
          if (!file || fault) return
          // What it shows is asked for.
          const { doc, selection, tr } = view.state
          const at = selection.from - 1
          if (doc.nodeAt(at)?.type !== nodes.image) return
          view.dispatch(tr.setSelection(NodeSelection.create(doc, at)))
          onPicture(true)
        }}
      />
      {tool(t('common.new-page'), <SeparatorHorizontal />, insertPageBreak, {
        keys: withControl('Enter'),
        disabled: view !== page,
      })}
      {rule}
    </>,
  )
}
