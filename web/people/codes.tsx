import { toast } from 'sonner'
import type { GivenCode } from '../../core/contract'
import { asList } from '../../core/people/lists'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { T, t } from '../words/all'
import { moment } from '../words/formats'
import { saveList } from './save-list'

/** The codes that were just made: they are shown once. */
export function Codes({ given, onClose }: { given: readonly GivenCode[]; onClose: () => void }) {
  const { origin } = window.location
  const sent = given.filter(({ sentTo }) => sentTo !== null)
  const [only] = given.length === 1 ? given : []
  const asText = ({ handle, code }: GivenCode) => t('people.invitation', { origin, handle, code })
  return (
    <Question
      title={only ? t('people.a-code-for', { name: only.name }) : t('people.codes-for', { people: given.length })}
      wide={!only}
      onClose={onClose}
      answers={
        <>
          <Button look="main" onClick={onClose}>
            {t('people.i-have-handed-it-on', { people: given.length })}
          </Button>
          {only ? (
            <Button
              onClick={() =>
                void navigator.clipboard.writeText(asText(only)).then(
                  () => toast(t('people.copied')),
                  () => toast.error(t('people.could-not-be-copied')),
                )
              }
            >
              {t('people.copy-with-the-address')}
            </Button>
          ) : (
            <Button
              onClick={() =>
                saveList(
                  `${t('people.codes')}.csv`,
                  asList([
                    [
                      t('people.name'),
                      t('people.signs-in-with'),
                      t('people.code'),
                      t('people.address'),
                      t('people.until'),
                    ],
                    ...given.map(({ name, handle, code, until }) => [name, handle, code, origin, until]),
                  ]),
                )
              }
            >
              {t('people.save-as-a-list')}
            </Button>
          )}
        </>
      }
    >
      <p className="mb-4">
        <T
          k="people.it-is-shown-once"
          v={{ people: given.length, until: moment(given[0]!.until), b: (words) => <strong>{words}</strong> }}
        />
      </p>
      {sent.length > 0 && (
        <p className="mb-4 text-ink" role="status">
          {only
            ? t('people.code-goes-to', { address: sent[0]!.sentTo! })
            : t('people.codes-go-to', { people: sent.length })}
        </p>
      )}
      {only ? (
        <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-2 text-ink">
          <dt className="text-soft">{t('people.address')}</dt>
          <dd className="font-mono text-[14px]">{origin}</dd>
          <dt className="text-soft">{t('people.signs-in-with')}</dt>
          <dd className="font-mono text-[14px]">{only.handle}</dd>
          <dt className="text-soft">{t('people.code')}</dt>
          <dd className="select-all font-mono text-[18px] font-semibold tracking-wide" data-testid="code">
            {only.code}
          </dd>
        </dl>
      ) : (
        <div className="max-h-[min(50vh,420px)] overflow-auto border-y">
          <table className="w-full text-left text-ink">
            <tbody>
              {given.map(({ id, name, handle, code }) => (
                <tr key={id} className="border-b last:border-b-0">
                  <td className="py-1.5 pr-4">{name}</td>
                  <td className="py-1.5 pr-4 font-mono text-[13px]">{handle}</td>
                  <td className="select-all py-1.5 font-mono text-[14px] font-semibold">{code}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Question>
  )
}
