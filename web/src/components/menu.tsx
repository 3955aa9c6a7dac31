import { DropdownMenu as Radix } from 'radix-ui'
import { type ReactNode, useRef } from 'react'

/** `takesFocus` is for what puts the focus somewhere else; otherwise it goes back to the menu's button. */
export type MenuItem = {
  takesFocus?: boolean
  label: string
  icon?: ReactNode
  onSelect: () => void
  danger?: boolean
  disabled?: boolean
}

/** A button's menu. `trigger` must be a single button. */
export function Menu({
  trigger,
  items,
  label,
}: {
  trigger: ReactNode
  items: readonly (MenuItem | 'line')[]
  label: string
}) {
  const focusTaken = useRef(false)
  return (
    <Radix.Root>
      <Radix.Trigger asChild>{trigger}</Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          aria-label={label}
          onCloseAutoFocus={(event) => {
            if (focusTaken.current) event.preventDefault()
            focusTaken.current = false
          }}
          align="end"
          sideOffset={4}
          collisionPadding={8}
          className="z-50 max-h-[60vh] min-w-44 overflow-y-auto rounded-10 border border-line bg-raised p-1 shadow-lift"
        >
          {items.map((item, i) =>
            item === 'line' ? (
              // biome-ignore lint/suspicious/noArrayIndexKey: separators have nothing else, and menus do not reorder
              <Radix.Separator key={`line-${i}`} className="my-1 h-px bg-line" />
            ) : (
              <Radix.Item
                key={item.label}
                disabled={item.disabled ?? false}
                onSelect={() => {
                  focusTaken.current = item.takesFocus ?? false
                  item.onSelect()
                }}
                className={`flex cursor-pointer items-center gap-2 rounded-4 px-2.5 py-1.5 outline-none data-[disabled]:opacity-45 data-[highlighted]:bg-ground ${item.danger ? 'text-madder' : ''}`}
              >
                {item.icon}
                {item.label}
              </Radix.Item>
            ),
          )}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
