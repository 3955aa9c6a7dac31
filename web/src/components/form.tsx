import { valibotResolver } from '@hookform/resolvers/valibot'
import { type DefaultValues, type FieldValues, type Path, useForm as useHookForm } from 'react-hook-form'
import type { GenericSchema, InferInput, InferOutput } from 'valibot'
import { Button } from './button.tsx'

type Form<Values extends FieldValues, Output> = {
  schema: GenericSchema<Values, Output>
  /** What stands in it at first. */
  first: Values
  /** Sends what was typed, as the schema gives it. What it throws is told in the form, and nothing typed is lost. */
  send: (values: Output) => Promise<unknown>
  /** How what it throws is told. */
  sentenceOf?: (error: Error) => string
}

/** A form that is filled in and sent once: what is wrong is said at its field, what the server refuses below all. */
export function useForm<Schema extends GenericSchema<FieldValues, FieldValues>>({
  schema,
  first,
  send,
  sentenceOf = ({ message }) => message,
}: Form<InferInput<Schema>, InferOutput<Schema>> & { schema: Schema }) {
  type Values = InferInput<Schema>
  const { register, handleSubmit, setError, formState, control } = useHookForm<Values, unknown, InferOutput<Schema>>({
    resolver: valibotResolver(schema),
    defaultValues: first as DefaultValues<Values>,
  })
  const { errors, isSubmitting } = formState
  const onSubmit = handleSubmit(async (values) => {
    try {
      await send(values)
    } catch (error) {
      setError('root.refused', { message: sentenceOf(error instanceof Error ? error : new Error(String(error))) })
    }
  })
  /** What a field needs to be one of this form. */
  const field = (name: Path<Values>) => {
    const said = errors[name]?.message
    return { ...register(name), error: typeof said === 'string' ? toSentence(said) : undefined }
  }
  return {
    form: { onSubmit, noValidate: true },
    field,
    control,
    isSending: isSubmitting,
    refused: errors.root?.refused?.message,
  }
}

/** The schemas' words are parts of sentences. */
const toSentence = (said: string) => `${said.charAt(0).toUpperCase()}${said.slice(1)}.`

/** What the server said against a form. */
export const Refused = ({ children }: { children: string | undefined }) =>
  children ? (
    <p role="alert" className="flex-1 text-13 text-madder">
      {children}
    </p>
  ) : null

type End = { refused: string | undefined; isSending: boolean; send: string; sending?: string }

/** The end of a form in a dialog: what was refused, and the button that sends it. */
export const FormEnd = ({ refused, isSending, send, sending = send }: End) => (
  <div className="flex items-center justify-end gap-3">
    <Refused>{refused}</Refused>
    <Button kind="primary" type="submit" disabled={isSending}>
      {isSending ? sending : send}
    </Button>
  </div>
)
