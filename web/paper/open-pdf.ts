// Opens PDFs in one worker, which stays: starting one takes longer than opening what is small.
import { GlobalWorkerOptions, getDocument, type PDFDocumentLoadingTask, PDFWorker } from 'pdfjs-dist'
import workerAddress from 'pdfjs-dist/build/pdf.worker.min.mjs?url'

GlobalWorkerOptions.workerSrc = workerAddress
let worker: PDFWorker | undefined

/** It is handed over to the worker as a copy: the bytes stay here. */
export function openPdf(pdf: Uint8Array): PDFDocumentLoadingTask {
  worker ??= new PDFWorker()
  return getDocument({ data: pdf.slice(), isEvalSupported: false, disableFontFace: true, worker })
}
