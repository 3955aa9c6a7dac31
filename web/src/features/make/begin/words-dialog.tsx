import { WRITTEN_NUMBERS, type Written } from '@satchel/core/make/written'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Choices, Slider } from '../../../components/controls.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { TextArea } from '../../../components/field.tsx'
import { SettingSlider } from '../../../components/number-slider.tsx'
import { toastError } from '../../../components/toasts.tsx'
import type { Picture } from '../../../data/sources.ts'
import { LETTERS, usualWritten, writeWords } from './write-words.ts'

type Props = {
  /** The words as they are, where they are written anew. */
  written: Written | undefined
  onClose: () => void
  onPicture: (picture: Picture) => void
}

const LETTER_NAMES = Object.keys(LETTERS) as Written['letters'][]

/** Words in the letters that come with the product become a picture. */
export function WordsDialog({ written, onClose, onPicture }: Props) {
  const [wish, setWish] = useState(written ?? usualWritten)
  const { family, heaviest } = LETTERS[wish.letters]
  const isEmpty = wish.words.trim() === ''
  const write = async () => {
    try {
      onPicture({ file: await writeWords(wish), written: wish })
      onClose()
    } catch (error) {
      toastError(error)
    }
  }
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title="Words" shape="wide">
      <TextArea
        label="What it says"
        value={wish.words}
        maxLength={200}
        rows={2}
        onChange={(event) => setWish({ ...wish, words: event.target.value })}
      />
      <div className="grid gap-3 sm:grid-cols-3">
        <Choices
          label="Letters"
          value={wish.letters}
          choices={LETTER_NAMES.map((value) => ({ value, label: LETTERS[value].label }))}
          onChange={(letters) => setWish({ ...wish, letters })}
        />
        <Slider
          label="Weight"
          value={Math.min(wish.weight, heaviest)}
          usual={usualWritten.weight}
          min={100}
          max={heaviest}
          unit=""
          onChange={(weight) => setWish({ ...wish, weight: Math.round(weight) })}
        />
        <SettingSlider rows={WRITTEN_NUMBERS} name="spacing" of={wish} onChange={setWish} />
      </div>
      <div
        className="well grid min-h-40 place-content-center overflow-auto whitespace-pre p-4 text-center text-[#181818]"
        data-testid="words-shown"
        style={{
          fontFamily: family,
          fontWeight: Math.min(wish.weight, heaviest),
          letterSpacing: `${wish.spacing / 100}em`,
          fontSize: 56,
          lineHeight: 1.25,
        }}
      >
        {wish.words || <span className="font-sans text-15 font-normal text-[#555555]">Nothing is written yet.</span>}
      </div>
      <div className="flex justify-end gap-2">
        <Button kind="quiet" onClick={onClose}>
          Cancel
        </Button>
        <Button kind="primary" disabled={isEmpty} onClick={() => void write()}>
          {written ? 'Write it anew' : 'Begin with these words'}
        </Button>
      </div>
    </Dialog>
  )
}
