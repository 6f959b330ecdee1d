import { Link } from 'react-router'
import type { MomentDifference } from '../../core/contract'
import { KindGlyph, NameParts } from '../design/kind'
import { t } from '../words/all'
import { moment } from '../words/formats'

function inWords({ differs, version, versionNow, nameNow, nearest, gone }: MomentDifference): string[] {
  const said: string[] = []
  const is = (one: MomentDifference['differs'][number]) => differs.includes(one)
  if (is('removed')) said.push(gone ? t('moment.gone') : t('moment.removed'))
  if (is('moved')) said.push(t('moment.moved'))
  if (is('renamed') && nameNow !== null) said.push(t('moment.renamed', { name: nameNow }))
  if (is('changed') && version && versionNow)
    said.push(
      t('moment.of-then', {
        number: version.number,
        at: moment(version.at),
        author: version.author,
        now: versionNow.number,
        nowAt: moment(versionNow.at),
        nowAuthor: versionNow.author,
      }),
    )
  if (nearest) said.push(t('moment.nearest'))
  if (is('new')) said.push(t('moment.new'))
  return said
}

/** One thing that differs: its name and place then, and what is other now. */
export function DifferenceRow({
  one,
  ticked,
  onTick,
}: {
  one: MomentDifference
  ticked: boolean
  /** null where nothing can be brought back. */
  onTick: ((on: boolean) => void) | null
}) {
  const { id, kind, type, name, folders, differs, gone } = one
  const there = !differs.includes('removed')
  const called = <NameParts name={name} className="block truncate font-mono text-[14px]" />
  return (
    <li className="grid grid-cols-[auto_20px_minmax(0,1fr)] items-start gap-x-3 border-b px-1 py-2">
      {onTick ? (
        <input
          type="checkbox"
          aria-label={t('moment.choose', { name })}
          className="mt-1 size-4 accent-[var(--accent)]"
          checked={ticked}
          disabled={gone}
          onChange={(event) => onTick(event.target.checked)}
        />
      ) : (
        <span />
      )}
      <span className="pt-0.5">
        <KindGlyph type={type} folder={kind === 'folder'} />
      </span>
      <div className="min-w-0">
        <div className="flex min-h-6 flex-wrap items-baseline gap-x-4">
          {there && kind === 'file' ? (
            <Link to={`/open/${id}`} className="min-w-0 hover:text-accent hover:underline">
              {called}
            </Link>
          ) : (
            called
          )}
          {folders.length > 0 && <span className="truncate text-[13.5px] text-soft">{folders.join(' / ')}</span>}
        </div>
        <p className={`text-[13.5px] leading-[19px] ${differs.includes('new') ? 'text-soft' : ''}`}>
          {inWords(one).join(' ')}
        </p>
      </div>
    </li>
  )
}
