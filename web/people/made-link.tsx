import { toast } from 'sonner'
import type { MadeLink } from '../../core/contract'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { t } from '../words/all'

/** The address of a new link, which is shown once. */
export function MadeLinkShown({ made: { link, token }, onClose }: { made: MadeLink; onClose: () => void }) {
  const address = `${window.location.origin}/link#${token}`
  return (
    <Question
      title={t('people.link-made', { name: link.name })}
      onClose={onClose}
      answers={
        <>
          <Button
            look="main"
            autoFocus
            onClick={() =>
              void navigator.clipboard.writeText(address).then(
                () => toast(t('people.link-copied')),
                () => toast.error(t('people.could-not-be-copied')),
              )
            }
          >
            {t('people.copy-the-address')}
          </Button>
          <Button onClick={onClose}>{t('people.i-have-it')}</Button>
        </>
      }
    >
      <p className="mb-3">{t('people.link-shown-once')}</p>
      <p className="break-all rounded-md bg-wash px-3 py-2 font-mono text-[14px] text-ink" data-testid="link-address">
        {address}
      </p>
    </Question>
  )
}
