/** A picture as it is sent: turned upright, its long edge 1,600 px at most, without what the camera wrote into it. */

const LONG_EDGE = 1600
const MOST_BYTES = 400_000
const QUALITIES = [0.82, 0.7, 0.55, 0.4, 0.25]

/** Gives the picture as JPEG in base64. Throws an Error in words where this browser cannot read the file. */
export async function shrink(file: Blob): Promise<string> {
  let picture: ImageBitmap
  try {
    picture = await createImageBitmap(file, { imageOrientation: 'from-image' })
  } catch {
    throw new Error(
      'This browser cannot read that file as a picture. Choose a JPEG, PNG or WebP, or set the camera to take JPEG.',
    )
  }
  const scale = Math.min(1, LONG_EDGE / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(picture.width * scale))
  canvas.height = Math.max(1, Math.round(picture.height * scale))
  const pen = canvas.getContext('2d')!
  pen.fillStyle = '#fff'
  pen.fillRect(0, 0, canvas.width, canvas.height)
  pen.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  let content = ''
  for (const quality of QUALITIES) {
    content = canvas.toDataURL('image/jpeg', quality).split(',')[1]!
    if (content.length * 0.75 <= MOST_BYTES) break
  }
  return content
}
