import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { Share, ShareNaming } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { Blank, Button } from '../design/controls'
import { KindGlyph } from '../design/kind'
import { t, told } from '../words/all'
import { moment } from '../words/formats'

/** A share's templates: what work can be begun from, with the convention and the values each carries. */
export function Templates({ share, naming }: { share: Share; naming: ShareNaming }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const { person } = useSession()
  const templates = useQuery(queries.templates)
  const remove = useMutation({
    mutationFn: (templateId: string) => call('removeTemplate', { params: { templateId } }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.templates() }),
    onError: (error) =>
      toast.error(error instanceof Refused ? told(error.problem) : t('names.it-could-not-be-removed')),
  })
  const those = templates.data?.filter(({ shareId }) => shareId === share.id)
  if (templates.isPending) return <Blank title={t('common.one-moment')} waiting />
  if (!those?.length)
    return (
      <Blank title={t('names.has-no-templates-yet', { shareName: share.name })}>
        <p>{t('names.open-a-document-or-a-spreadsheet-and')}</p>
      </Blank>
    )
  return (
    <ul className="px-6 py-3">
      {those.map((template) => {
        const convention = naming.conventions.find(({ id }) => id === template.conventionId)
        const presets = Object.entries(template.presets).map(([id, value]) => {
          const part = convention?.rules.parts.find((one) => one.id === id)
          return part ? `${part.label} ${value}` : value
        })
        return (
          <li key={template.id} className="flex items-center gap-4 border-b py-3">
            <KindGlyph type={template.type} size={20} />
            <div className="min-w-0 flex-1">
              <p className="font-medium">{template.name}</p>
              <p className="text-[14px] text-soft">
                {t('names.has-no-convention-with-made-by-work', {
                  convention: Boolean(convention),
                  conventionName: convention?.name,
                  presets: Boolean(presets.length > 0),
                  presets2: presets.join(', '),
                  author: template.author,
                  at: moment(template.at),
                })}
              </p>
            </div>
            <Button onClick={() => navigate(`/new/${template.kind}?template=${template.id}`)}>
              {t('names.begin-from-it')}
            </Button>
            {(share.role === 'manage' || (share.role === 'edit' && template.author === person.name)) && (
              <Button look="quiet" disabled={remove.isPending} onClick={() => remove.mutate(template.id)}>
                {t('names.remove-it')}
              </Button>
            )}
          </li>
        )
      })}
    </ul>
  )
}
