import type { PDFDocumentProxy } from 'pdfjs-dist'

/** Dots of a screen to a point of a page, so that small print is sharp. */
const SHARP = 2

/**
 * Draws the pages of a PDF. What does so is large, and is fetched with the first of them.
 * @param bytes the document
 * @param width of each page, in CSS pixels
 * @returns an image of each page, in their order
 */
export async function drawPages(bytes: Uint8Array, width: number): Promise<HTMLCanvasElement[]> {
  const pdf = await import('pdfjs-dist/legacy/build/pdf.mjs')
  const worker = await import('pdfjs-dist/legacy/build/pdf.worker.min.mjs?url')
  pdf.GlobalWorkerOptions.workerSrc = worker.default
  const task = pdf.getDocument({ data: bytes, isEvalSupported: false, useWasm: false })
  const document = await task.promise
  try {
    const numbers = Array.from({ length: document.numPages }, (_, index) => index + 1)
    return await Promise.all(numbers.map((number) => drawPage(document, number, width)))
  } finally {
    await task.destroy()
  }
}

async function drawPage(pdf: PDFDocumentProxy, number: number, width: number): Promise<HTMLCanvasElement> {
  const page = await pdf.getPage(number)
  const viewport = page.getViewport({ scale: (width * SHARP) / page.getViewport({ scale: 1 }).width })
  const canvas = document.createElement('canvas')
  canvas.width = viewport.width
  canvas.height = viewport.height
  await page.render({ canvas, viewport }).promise
  return canvas
}
