import { QRCodeSVG } from 'qrcode.react'

/** White around a code, in its own modules (ISO/IEC 18004, 9.1). */
const QUIET_MODULES = 4

/** A link to be read by a phone's camera: dark on white in every light, since cameras want it so. */
export const QrCode = ({ text, label, className = '' }: { text: string; label: string; className?: string }) => (
  <QRCodeSVG
    value={text}
    level="M"
    marginSize={QUIET_MODULES}
    bgColor="#fff"
    fgColor="#000"
    role="img"
    aria-label={label}
    // its size is that of its class
    width={undefined}
    height={undefined}
    className={className}
  />
)
