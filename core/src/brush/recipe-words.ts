import type { AngleMode, FrameRule, Grain, PaintReading, Recipe, Ribbon } from './recipe.ts'

/** What the interface, the shell and what is written for people call the ways of reading pixels as paint. */
export const READING_WORDS: Record<PaintReading, string> = {
  dark: 'dark paints',
  light: 'light paints',
  alpha: 'alpha paints',
  own: 'own colours',
  tone: 'tone',
}

/** By what the next frame is picked. */
export const FRAME_RULE_WORDS: Record<FrameRule, string> = {
  inOrder: 'in order',
  random: 'at random',
  direction: 'by direction',
  pressure: 'by pressure',
  speed: 'by speed',
  tiltX: 'by tilt, left and right',
  tiltY: 'by tilt, up and down',
}

/** How a mark lies. */
export const ANGLE_MODE_WORDS: Record<AngleMode, string> = {
  fixed: 'as drawn',
  following: 'along the stroke',
  first: 'as the stroke began',
  tilt: 'as the pen leans',
}

/** How a strip is laid along the path. */
export const LAY_WORDS: Record<Ribbon['lay'], string> = {
  repeated: 'a strip, repeated',
  stretched: 'a strip, stretched',
}

/** What a grain lies on. */
export const GRAIN_ANCHOR_WORDS: Record<Grain['anchor'], string> = {
  canvas: 'the canvas',
  stroke: 'each stroke',
  stamp: 'each stamp',
}

/** When a grain is turned at random. */
export const GRAIN_TURN_WORDS: Record<Grain['randomTurn'], string> = {
  none: 'never',
  stroke: 'each stroke',
  stamp: 'each stamp',
}

/** What a brush does with what is there. */
export const BEHAVIOUR_WORDS: Record<Recipe['colour']['behaviour'], string> = {
  paint: 'paints',
  erase: 'erases',
  smear: 'smears',
}

/** What pressure, tilt or speed can change. */
export const HAND_WORDS: Record<keyof Recipe['hand']['pressure'], string> = {
  size: 'Size',
  opacity: 'Opacity',
  flow: 'Flow',
  angle: 'Angle',
  frame: 'Frame',
}
