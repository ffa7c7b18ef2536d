import { useEventListener } from '@vueuse/core'

type Handler = (event: KeyboardEvent) => void
/** Keys as they are named: `j`, `Enter`, `alt+1`, `ctrl+Enter`, `shift+ArrowDown`. Ctrl stands for the Mac's command key too. */
export type Shortcuts = Readonly<Record<string, Handler>>

const TYPING = 'input, textarea, select, [contenteditable="true"], [role="combobox"]'
const DIALOG = '.el-overlay:not([style*="display: none"]) .el-dialog'

export const keyName = (event: KeyboardEvent): string =>
  [
    event.ctrlKey || event.metaKey ? 'ctrl' : '',
    event.altKey ? 'alt' : '',
    event.shiftKey && event.key.length > 1 ? 'shift' : '',
    event.key.length === 1 ? event.key.toLowerCase() : event.key,
  ]
    .filter(Boolean)
    .join('+')

/** Whether somebody types into a field: keys are letters there. */
export const isTyping = (event: Event): boolean => event.target instanceof HTMLElement && event.target.matches(TYPING)

/**
 * Shortcuts of a page while it is there. They never fire inside a field, unless they are named in `everywhere`, and not below an open dialog.
 */
export function useShortcuts(shortcuts: Shortcuts, everywhere: readonly string[] = []): void {
  const table = new Map(Object.entries(shortcuts))
  useEventListener(document, 'keydown', event => {
    if (event.defaultPrevented) return
    const name = keyName(event)
    const handler = table.get(name)
    if (!handler || document.querySelector(DIALOG)) return
    if (isTyping(event) && !everywhere.includes(name)) return
    handler(event)
  })
}
