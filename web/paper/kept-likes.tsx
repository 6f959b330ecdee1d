// Choices under a name: used, kept and given up.
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { KeptLikes, PaperLikes } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Choice } from '../design/choice'
import { Button, Field } from '../design/controls'
import { t } from '../words/all'
import { keep, namedLikes, usualLikes } from './likes'

const none = ''

export function KeptChoices({
  kept,
  likes,
  onUse,
}: {
  kept: readonly KeptLikes[]
  likes: PaperLikes
  onUse: (likes: PaperLikes) => void
}) {
  const client = useQueryClient()
  const [used, setUsed] = useState(none)
  const [naming, setNaming] = useState<string | null>(null)
  const named = namedLikes(kept)
  const after = async (what: Promise<unknown>) => {
    await what
    await client.invalidateQueries({ queryKey: keys.paperLikes() })
  }
  return (
    <div className="flex flex-wrap items-end gap-x-3 gap-y-2 border-b px-4 py-3">
      <Choice
        label={t('paper.kept-choices')}
        value={used}
        choices={[
          [none, t('paper.as-set-now')],
          ['usual', t('paper.usual-choices')],
          ...named.map(([name]) => [`named ${name}`, name] as const),
        ]}
        onChange={(about) => {
          setUsed(about)
          if (about === 'usual') onUse({ ...usualLikes, printerId: likes.printerId })
          const found = named.find(([name]) => about === `named ${name}`)
          if (found) onUse(found[1])
        }}
      />
      {naming === null ? (
        <>
          <Button look="quiet" className="h-9" onClick={() => setNaming('')}>
            {t('paper.keep-as')}
          </Button>
          {used.startsWith('named ') && (
            <Button
              look="quiet"
              className="h-9"
              onClick={() => {
                void after(call('forgetPaperLikes', { query: { about: used } }))
                setUsed(none)
              }}
            >
              {t('paper.keep-no-more')}
            </Button>
          )}
        </>
      ) : (
        <form
          className="flex flex-1 items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            const name = naming.trim()
            if (!name) return
            void after(keep(`named ${name}`, likes)).then(() => setUsed(`named ${name}`))
            setNaming(null)
          }}
        >
          <Field
            className="min-w-0 flex-1"
            label={t('paper.name-of-choices')}
            value={naming}
            maxLength={80}
            ref={(field) => void (naming === '' && field?.focus())}
            onChange={(event) => setNaming(event.target.value)}
          />
          <Button type="submit" className="h-9">
            {t('paper.keep')}
          </Button>
        </form>
      )}
    </div>
  )
}
