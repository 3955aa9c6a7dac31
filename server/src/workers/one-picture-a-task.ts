import sharp from 'sharp'

// One picture is one task here; the pool of workers already uses both cores.
sharp.concurrency(1)
sharp.cache(false)
