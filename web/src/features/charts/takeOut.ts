/** A chart as a picture: what is on the screen, as a file. */

/** The drawing as a file of its own, on a ground of its colour. */
export function asSvg(drawn: SVGSVGElement, ground: string): string {
  const copy = drawn.cloneNode(true) as SVGSVGElement;
  const { width, height } = drawn.getBoundingClientRect();
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('viewBox', `0 0 ${width} ${height}`);
  copy.setAttribute('font-family', getComputedStyle(drawn).fontFamily.replaceAll('"', "'"));
  // What is for hands alone.
  for (const part of copy.querySelectorAll('[tabindex], [role]')) {
    part.removeAttribute('tabindex');
    part.removeAttribute('role');
  }
  copy.removeAttribute('tabindex');
  copy.removeAttribute('style');
  const paper = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  paper.setAttribute('width', '100%');
  paper.setAttribute('height', '100%');
  paper.setAttribute('fill', ground);
  copy.prepend(paper);
  const title = document.createElementNS('http://www.w3.org/2000/svg', 'title');
  title.textContent = drawn.getAttribute('aria-label');
  copy.prepend(title);
  return new XMLSerializer().serializeToString(copy);
}

/** The drawing in points of a screen, twice as fine as this one. */
export async function asPng(drawn: SVGSVGElement, ground: string): Promise<Blob> {
  const { width, height } = drawn.getBoundingClientRect();
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(asSvg(drawn, ground))}`;
  await picture.decode();
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [width * 2, height * 2];
  const pen = canvas.getContext('2d');
  pen?.scale(2, 2);
  pen?.drawImage(picture, 0, 0, width, height);
  return new Promise((done, failed) => {
    canvas.toBlob((blob) => (blob ? done(blob) : failed(new Error('no picture'))), 'image/png');
  });
}

/** Hands a file to whoever asked for it. */
export function handOut(name: string, content: Blob): void {
  const address = URL.createObjectURL(content);
  const link = document.createElement('a');
  [link.href, link.download] = [address, name];
  link.click();
  URL.revokeObjectURL(address);
}

/** A name of a file that any system takes. */
export function fileName(name: string, ending: string): string {
  const plain = name
    .normalize('NFKD')
    .replaceAll(/[^\w -]+/g, '')
    .trim()
    .replaceAll(/\s+/g, '-');
  return `${plain === '' ? 'chart' : plain.toLowerCase()}.${ending}`;
}
