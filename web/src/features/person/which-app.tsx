import { APP_QUESTIONS, type AppAnswers, appsLeft, nextQuestion } from '@satchel/core/destinations/which-app'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import type { App } from '../../data/hand-out-page.ts'
import { OPEN } from './remembered.ts'

type Props = { apps: readonly App[]; onFound: (name: string) => void }

/** Three questions at most, for who does not know which of the apps is theirs. */
export function WhichApp({ apps, onFound }: Props) {
  const [answers, setAnswers] = useState<AppAnswers>({})
  const question = nextQuestion(apps, answers)
  const left = appsLeft(apps, answers)
  return (
    <section className="grid gap-3 rounded-6 border border-line p-4" aria-label="Three questions">
      {question && left.length > 1 ? (
        <>
          <p>
            <span className="measure text-quiet">{Object.keys(answers).length + 1} of 3</span>{' '}
            {APP_QUESTIONS[question.name]}
          </p>
          <div className="flex flex-wrap gap-2">
            {[...question.choices, null].map((choice) => (
              <Button key={choice ?? ''} onClick={() => setAnswers({ ...answers, [question.name]: choice })}>
                {choice ?? 'I don’t know'}
              </Button>
            ))}
          </div>
        </>
      ) : (
        <>
          <p role="status">
            {left.length === 0
              ? 'None of the apps that this was made for is like that. The open files are for any program:'
              : left.length === 1
                ? 'It is this one:'
                : 'It is one of these; where none is yours, take the open files:'}
          </p>
          <div className="flex flex-wrap gap-2">
            {left.map(({ id, name, appVersion }) => (
              <Button key={id} onClick={() => onFound(name)}>
                {name} {appVersion}
              </Button>
            ))}
            <Button onClick={() => onFound(OPEN)}>The open files</Button>
          </div>
        </>
      )}
      {Object.keys(answers).length > 0 && (
        <div>
          <Button kind="quiet" onClick={() => setAnswers({})}>
            Ask me again
          </Button>
        </div>
      )}
    </section>
  )
}
