import { useEffect, useRef } from 'react'

/** Opaque or straight RGBA, rows from the top. */
type RgbaPixels = { width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> }

/** Pixels as they come from a worker, on a canvas as large as they are; its box is for the style to say. */
export function PixelsCanvas({ pixels, label, className }: { pixels: RgbaPixels; label: string; className?: string }) {
  const element = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const canvas = element.current
    if (!canvas) return
    canvas.width = pixels.width
    canvas.height = pixels.height
    canvas.getContext('2d')?.putImageData(new ImageData(pixels.data, pixels.width, pixels.height), 0, 0)
  }, [pixels])
  return <canvas ref={element} role="img" aria-label={label} className={className} />
}
