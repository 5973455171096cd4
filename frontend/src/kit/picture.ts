const LONGEST = 2_400
const SMALL_ENOUGH = 1_500_000

/** A picture no larger than anybody looks at it, so that it waits and goes out quickly; what cannot be read stays. */
export async function scaledDown(picture: Blob): Promise<Blob> {
  let bitmap: ImageBitmap
  try {
    bitmap = await createImageBitmap(picture, { imageOrientation: 'from-image' })
  } catch {
    return picture
  }
  try {
    const scale = LONGEST / Math.max(bitmap.width, bitmap.height)
    if (scale >= 1 && picture.size <= SMALL_ENOUGH) return picture
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(1, Math.round(bitmap.width * Math.min(1, scale)))
    canvas.height = Math.max(1, Math.round(bitmap.height * Math.min(1, scale)))
    canvas.getContext('2d')!.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
    const smaller = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', 0.88))
    return smaller && smaller.size < picture.size ? smaller : picture
  } finally {
    bitmap.close()
  }
}
