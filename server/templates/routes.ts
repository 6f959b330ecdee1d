import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { addTemplate, removeTemplate, templatesFor } from './service'

export function templateRoutes(mount: Mount, { database }: AppParts): void {
  mount('templates', ({ person }) => templatesFor(database.manager, person.id))
  mount('newTemplate', ({ person, body }) => addTemplate(database.manager, person.id, body))
  mount('removeTemplate', ({ person, params }) => removeTemplate(database.manager, person.id, params.templateId))
}
