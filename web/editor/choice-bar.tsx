// Where this work and a version that somebody saved meanwhile both have something else: one place after
// the other, without holding anybody up.
import { ChevronLeft, ChevronRight } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { t } from '../words/all'
import type { Choice } from '../work/content'

export function ChoiceBar({
  choices,
  whose,
  onSettled,
}: {
  choices: readonly Choice[]
  /** Whose version was taken in, as it stands beside one's own: "Priya’s". */
  whose: string
  onSettled: (id: string) => void
}) {
  const [at, setAt] = useState(0)
  const choice = choices[Math.min(at, choices.length - 1)]
  // biome-ignore lint/correctness/useExhaustiveDependencies: shown when another place is to be chosen, which its id tells
  useEffect(() => choice?.show(), [choice?.id])
  if (!choice) return null
  const settle = (which: 'mine' | 'theirs' | 'both') => {
    choice.choose(which)
    onSettled(choice.id)
  }
  const step = (by: number) => setAt((Math.min(at, choices.length - 1) + by + choices.length) % choices.length)
  const side = (name: string, text: string, which: 'mine' | 'theirs') => (
    <div className="flex min-w-0 flex-1 items-baseline gap-2 rounded-md border bg-sheet px-3 py-1.5">
      <span className="shrink-0 text-[13px] text-soft">{name}</span>
      <span className="min-w-0 flex-1 truncate" title={text}>
        {text || <em className="text-soft">{t('editor.nothing')}</em>}
      </span>
      <Button className="h-7" onClick={() => settle(which)}>
        {t('editor.keep-theirs', { which: Boolean(which === 'mine') })}
      </Button>
    </div>
  )
  return (
    <section
      className="flex items-center gap-4 border-b border-ochre/50 bg-ochre-wash px-4 py-2"
      aria-label={t('editor.where-both-of-you-wrote')}
      data-testid="choices"
    >
      <div className="flex items-center gap-1">
        {choices.length > 1 && (
          <IconButton label={t('editor.the-place-before')} onClick={() => step(-1)}>
            <ChevronLeft size={16} />
          </IconButton>
        )}
        <p className="w-48 text-[14px] leading-[18px]" role="status">
          {choices.length === 1
            ? t('editor.one-place-where-both-wrote')
            : t('editor.places-where-both-wrote', { choices: choices.length })}
          {choice.where && <span className="block truncate text-soft">{choice.where}</span>}
        </p>
        {choices.length > 1 && (
          <IconButton label={t('editor.the-next-place')} onClick={() => step(1)}>
            <ChevronRight size={16} />
          </IconButton>
        )}
      </div>
      {side(t('editor.mine'), choice.mine, 'mine')}
      {side(whose, choice.theirs, 'theirs')}
      {choice.mayKeepBoth && (
        <Button look="quiet" onClick={() => settle('both')}>
          {t('editor.keep-both')}
        </Button>
      )}
    </section>
  )
}
