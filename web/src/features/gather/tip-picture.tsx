/** A tip's picture as it paints, in a well. */
export function TipPicture({ blobSha, reading, alt }: { blobSha: string; reading: string; alt: string }) {
  return (
    <span className="well grid h-11 w-11 shrink-0 place-content-center overflow-clip">
      <img
        src={`/api/pictures/${blobSha}/tip.png?reading=${reading}&side=88`}
        alt={alt}
        loading="lazy"
        decoding="async"
        className="max-h-10 max-w-10"
      />
    </span>
  )
}
