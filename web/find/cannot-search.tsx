import { isAway } from '../api/call'
import { Blank, Button } from '../design/controls'
import { t } from '../words'

/** In place of what would have been found. */
export function CannotSearch({ error, onAgain }: { error: unknown; onAgain: () => void }) {
  return (
    <Blank
      title={isAway(error) ? t('common.the-server-does-not-answer-right-now') : t('find.jaula-cannot-search-for-this')}
    >
      <Button look="main" onClick={onAgain}>
        {t('common.try-again')}
      </Button>
    </Blank>
  )
}
