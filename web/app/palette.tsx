import { Command as Palette } from 'cmdk'
import { Dialog } from 'radix-ui'
import { useNavigate } from 'react-router'
import { type Command, useCommands } from '../design/commands'
import { t } from '../words'
import { type Answer, answers, fits } from './how'
import { keysInWords } from './keys'

const item = 'flex cursor-pointer items-center rounded px-3 py-2 data-[selected=true]:bg-wash'
const heading =
  '[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[13px] [&_[cmdk-group-heading]]:text-soft'

/** Everything that can be done here, by name, and answers to how it is done. */
export function CommandPalette({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const commands = useCommands()
  const navigate = useNavigate()
  const groups = [...new Set(commands.map(({ group }) => group))]
  const run = (command: Command) => {
    onOpenChange(false)
    command.run()
  }
  const carryOut = ({ command, at }: Answer) => {
    const own = commands.findLast(({ id }) => id === command)
    if (own) return run(own)
    onOpenChange(false)
    if (at) void navigate(at)
  }
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className="fixed left-1/2 top-[min(14vh,12px+6vh)] z-50 w-[min(600px,calc(100vw-32px))] -translate-x-1/2 overflow-hidden rounded-lg border bg-paper shadow-slip"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">{t('app.go-to-or-do')}</Dialog.Title>
          <Palette label={t('app.go-to-or-do')} filter={(value, typed, more) => fits(typed, value, more?.join(' '))}>
            <Palette.Input
              placeholder={t('app.where-to-what-to-do-or-how')}
              className="h-12 w-full border-b bg-transparent px-4 text-[16px] outline-none"
            />
            <Palette.List className="max-h-[min(50vh,calc(100dvh-120px))] overflow-auto p-2">
              <Palette.Empty className="px-3 py-6 text-center text-soft">
                {t('app.no-command-is-called-that-try-another')}
              </Palette.Empty>
              {groups.map((group) => (
                <Palette.Group key={group} heading={group} className={heading}>
                  {commands
                    .filter((command) => command.group === group && command.id !== 'palette')
                    .map((command) => (
                      <Palette.Item
                        key={command.id}
                        value={command.label}
                        keywords={command.words ? [command.words] : []}
                        onSelect={() => run(command)}
                        className={item}
                      >
                        {command.label}
                        {command.keys && (
                          <kbd className="ml-auto font-mono text-[12px] text-soft">{keysInWords(command.keys)}</kbd>
                        )}
                      </Palette.Item>
                    ))}
                </Palette.Group>
              ))}
              <Palette.Group heading={t('app.how-do-i')} className={heading}>
                {answers.map((answer) => (
                  <Palette.Item
                    key={answer.ask}
                    value={answer.ask}
                    keywords={[`${answer.words} ${answer.answer}`]}
                    onSelect={() => carryOut(answer)}
                    className={`${item} !block`}
                  >
                    <span className="block">{answer.ask}</span>
                    <span className="block text-[13.5px] leading-[19px] text-soft">{answer.answer}</span>
                  </Palette.Item>
                ))}
              </Palette.Group>
            </Palette.List>
          </Palette>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
