import type { FrameRule, PaintReading } from './recipe.ts'

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
