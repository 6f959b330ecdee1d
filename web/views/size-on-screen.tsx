// Says and chooses how large work is shown on the screen.
import { Check } from 'lucide-react'
import { useOffer } from '../design/commands'
import { Menu, MenuItem } from '../design/overlay'
import { t } from '../words/all'
import { percent } from '../words/formats'
import { type Sized, setSize, sizeOf, sizes, stepFrom, useSize } from './size'

/** @param back the keys go there once a size is chosen */
export function SizeOnScreen({ what, back, className = '' }: { what: Sized; back: () => void; className?: string }) {
  const size = useSize(what)
  const group = t('editor.on-screen')
  const to = (id: string, label: string, keys: string, next: (now: number) => number) => ({
    id: `size ${id}`,
    label,
    words: t('editor.size-words'),
    keys,
    group,
    // From what it is now: keys may come faster than this is drawn.
    run: () => setSize(what, next(sizeOf(what))),
  })
  useOffer([
    to('larger', t('editor.show-it-larger'), 'Alt++', (now) => stepFrom(now, 1)),
    to('smaller', t('editor.show-it-smaller'), 'Alt+-', (now) => stepFrom(now, -1)),
    to('usual', t('editor.show-it-as-usual'), 'Alt+0', () => 1),
  ])
  return (
    <Menu
      returnTo={back}
      trigger={
        <button
          type="button"
          aria-label={t('editor.size-on-screen', { size: percent(size) })}
          title={t('editor.size-on-screen', { size: percent(size) })}
          className={`min-h-6 whitespace-nowrap rounded px-2 text-[13px] tabular-nums text-soft hover:text-ink ${className}`}
        >
          {percent(size)}
        </button>
      }
    >
      {sizes.toReversed().map((one) => (
        <MenuItem key={one} onSelect={() => setSize(what, one)}>
          <Check aria-hidden className={one === size ? 'text-accent' : 'invisible'} />
          <span className="tabular-nums">{percent(one)}</span>
          {one === 1 && <kbd className="ml-auto pl-4 font-mono text-[12px] text-soft">Alt+0</kbd>}
        </MenuItem>
      ))}
    </Menu>
  )
}
