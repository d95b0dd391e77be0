/** The Node side of files: pictures decoded to grey values, and PDFs written. Shared by the server and the command line. */
export { decodePicture, pictureAddress, picturePng } from './picture.ts';
export { templatePdf } from './template.ts';
export { setUpSheetPdf, stickOut, type SheetFacts } from './sheet.ts';
export { quotePdf, type QuoteFacts } from './quote.ts';
