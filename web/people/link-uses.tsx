import { useQuery } from '@tanstack/react-query'
import type { Link, LinkUse } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { t } from '../words/all'
import { moment } from '../words/formats'

const what: Record<LinkUse['what'], string> = {
  opened: t('people.use-opened'),
  refused: t('people.use-refused'),
  looked: t('people.use-looked'),
  took: t('people.use-took'),
  'came to write': t('people.use-came-to-write'),
  saved: t('people.use-saved'),
}

/** What was done with a link: when, from where, with what. */
export function LinkUses({ link, onClose }: { link: Link; onClose: () => void }) {
  const uses = useQuery({
    queryKey: keys.links(link.entryId, 'uses', link.id),
    queryFn: () => call('linkUses', { params: { linkId: link.id } }),
  })
  return (
    <Question
      title={t('people.link-uses-of', { name: link.name })}
      wide
      onClose={onClose}
      answers={<Button onClick={onClose}>{t('people.close-this')}</Button>}
    >
      {uses.isPending && <p role="status">{t('common.one-moment')}</p>}
      {uses.isError && <p>{t('common.the-server-does-not-answer-right-now')}</p>}
      {uses.data?.length === 0 && <p>{t('people.link-never-used')}</p>}
      {uses.data && uses.data.length > 0 && (
        <div className="max-h-[50vh] overflow-auto">
          <table className="w-full text-left text-[14px]">
            <thead className="sr-only">
              <tr>
                <th>{t('people.use-when')}</th>
                <th>{t('people.use-what')}</th>
                <th>{t('people.use-where-from')}</th>
              </tr>
            </thead>
            <tbody>
              {uses.data.map((use) => (
                <tr key={`${use.at} ${use.what} ${use.file}`} className="border-b align-top last:border-b-0">
                  <td className="whitespace-nowrap py-2 pr-4">{moment(use.at)}</td>
                  <td className="py-2 pr-4 text-ink">
                    {what[use.what]}
                    {use.guest && ` · ${use.guest}`}
                    {use.file && (
                      <span className="block break-words text-soft">
                        {t('people.use-file', { file: use.file, version: use.version ?? 0 })}
                      </span>
                    )}
                  </td>
                  <td className="py-2 text-soft">
                    {use.address} · {use.browser}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Question>
  )
}
