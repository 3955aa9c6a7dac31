import { DEPTH_SIDE_MAX_PX } from '../mesh/depth.ts'
import { type Rows, type SettingRow, shareRow } from '../number-row.ts'

const turn = (label: string): SettingRow => ({
  label,
  unit: '°',
  from: -180,
  to: 180,
  least: -360,
  most: 360,
  usual: 0,
})

/** From where a model is looked at. */
export const VIEW_NUMBERS = {
  yawDeg: turn('Turn'),
  pitchDeg: turn('Nod'),
  rollDeg: turn('Roll'),
  zoom: shareRow('Nearer', { from: 0.5, to: 4, least: 0.1, most: 20, eased: true }),
} satisfies Rows

export const MODEL_NUMBERS = {
  sidePx: {
    label: 'Drawn at',
    unit: 'px',
    from: 128,
    to: 4096,
    usual: 1024,
    eased: true,
    whole: true,
    least: 16,
    most: DEPTH_SIDE_MAX_PX,
  },
} satisfies Rows
