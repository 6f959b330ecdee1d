import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { Share, ShareNaming } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../app/session'
import { Blank, Button } from '../design/controls'
import { KindGlyph } from '../design/kind'
import { moment } from '../design/words'

/** A share's templates: what work can be begun from, with the convention and the values each carries. */
export function Templates({ share, naming }: { share: Share; naming: ShareNaming }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const { person } = useSession()
  const templates = useQuery(queries.templates)
  const remove = useMutation({
    mutationFn: (templateId: string) => call('removeTemplate', { params: { templateId } }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.templates() }),
    onError: (error) => toast.error(error instanceof Refused ? error.problem.title : 'It could not be taken out.'),
  })
  const those = templates.data?.filter(({ shareId }) => shareId === share.id)
  if (templates.isPending) return <Blank title="One moment" waiting />
  if (!those?.length)
    return (
      <Blank title={`${share.name} has no templates yet`}>
        <p>Open a document or a spreadsheet and choose “Make a template of it” in its menu.</p>
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
                {convention ? `Named by ‹${convention.name}›` : 'Carries no convention'}
                {presets.length > 0 && `, with ${presets.join(', ')}`}. Made by {template.author}, {moment(template.at)}
                . Work begun from it is a file of its own.
              </p>
            </div>
            <Button onClick={() => navigate(`/new/${template.kind}?template=${template.id}`)}>Begin from it</Button>
            {(share.role === 'manage' || (share.role === 'edit' && template.author === person.name)) && (
              <Button look="quiet" disabled={remove.isPending} onClick={() => remove.mutate(template.id)}>
                Take it out
              </Button>
            )}
          </li>
        )
      })}
    </ul>
  )
}
