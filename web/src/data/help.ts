import type { HelpNode } from '@satchel/core/help/help-page'

/** What the server laid out. Its type holds itself, which the one of answers cannot follow. */
export const toHelp = (nodes: readonly unknown[]): readonly HelpNode[] => nodes as readonly HelpNode[]
