import { useQuery } from '@tanstack/react-query'
import type { ComponentProps } from 'react'
import { type Choice, SelectField } from '../../components/field.tsx'
import { editionsQuery } from '../../data/editions.ts'

type Props = Omit<ComponentProps<typeof SelectField>, 'label' | 'choices'> & {
  packId: string
  /** What can be chosen besides. */
  more?: readonly Choice[]
}

/** What of a release somebody gets: all of it, or an edition. */
export function EditionField({ packId, more = [], ...rest }: Props) {
  const editions = useQuery(editionsQuery(packId)).data?.editions ?? []
  const choices = [
    ...more,
    { value: '', label: 'all of it' },
    ...editions.map(({ id, name, plan }) => ({ value: id, label: plan.kit ? `${name} (class kit)` : name })),
  ]
  return <SelectField label="What of it" choices={choices} {...rest} />
}
