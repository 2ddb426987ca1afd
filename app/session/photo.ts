// A picture made small enough to be kept with a session: a JPEG of at most so many pixels and bytes.
import { MOST_PHOTO_BYTES } from '@nullet/core/session/rows'

const LONGEST_PX = 1600
/** Tried one after the other until it fits. */
const QUALITIES = [0.85, 0.7, 0.5, 0.3]

/** Width and height with the longest side cut to what is kept. */
export function fitted(width: number, height: number, longest = LONGEST_PX): { width: number; height: number } {
  const scale = Math.min(1, longest / Math.max(width, height))
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) }
}

/** @returns the JPEG; null where the file is no picture that this browser reads */
export async function smallJpeg(file: Blob): Promise<Uint8Array | null> {
  const picture = await createImageBitmap(file).catch(() => null)
  if (!picture) return null
  const { width, height } = fitted(picture.width, picture.height)
  const canvas = new OffscreenCanvas(width, height),
    pen = canvas.getContext('2d')!
  // What is clear in a picture lies on white.
  pen.fillStyle = 'white'
  pen.fillRect(0, 0, width, height)
  pen.drawImage(picture, 0, 0, width, height)
  picture.close()
  for (const quality of QUALITIES) {
    const blob = await canvas.convertToBlob({ type: 'image/jpeg', quality })
    if (blob.size <= MOST_PHOTO_BYTES) return new Uint8Array(await blob.arrayBuffer())
  }
  return null
}

export const base64 = (bytes: Uint8Array): string => {
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return btoa(text)
}
