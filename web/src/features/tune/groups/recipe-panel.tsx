import type { Recipe } from '@satchel/core/brush/recipe'
import type { Findings } from '../../../workers/stroke/protocol.ts'
import { ColourGroup } from './colour-group.tsx'
import { GroundGroup } from './ground-group.tsx'
import { HandGroup } from './hand-group.tsx'
import { MarkGroup } from './mark-group.tsx'
import { PathGroup } from './path-group.tsx'
import { VariationGroup } from './variation-group.tsx'

type Props = {
  recipe: Recipe
  pictures: readonly { blobSha: string }[]
  grainIsGone: boolean
  findings: Findings | undefined
  onChange: (recipe: Recipe) => void
  onFindJoin: () => void
}

/** The recipe in its six groups. */
export function RecipePanel({ recipe, pictures, grainIsGone, findings, onChange, onFindJoin }: Props) {
  const [first] = pictures
  const stripUrl = first && recipe.path.ribbon ? `/api/pictures/${first.blobSha}` : undefined
  return (
    <div>
      <MarkGroup recipe={recipe} onChange={onChange} />
      <PathGroup {...{ recipe, onChange, stripUrl, findings, onFindJoin }} frames={pictures.length} />
      <VariationGroup recipe={recipe} onChange={onChange} />
      <HandGroup recipe={recipe} onChange={onChange} frames={pictures.length} />
      <GroundGroup recipe={recipe} onChange={onChange} isGone={grainIsGone} />
      <ColourGroup recipe={recipe} onChange={onChange} tone={findings?.tone} />
    </div>
  )
}
