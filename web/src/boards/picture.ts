/** Properties of styles that a picture outside of the page must have with it. */
const STYLES = [
	"fill",
	"fill-opacity",
	"font-family",
	"font-size",
	"font-weight",
	"opacity",
	"stroke",
	"stroke-dasharray",
	"stroke-opacity",
	"stroke-width",
	"text-anchor",
] as const;
const SVG = "http://www.w3.org/2000/svg";
/** So that it can be read on a large screen, too. */
const SCALE = 2;

/** A drawing of the page as a picture that stands by itself: its styles are written into it. */
export function standalone(drawing: SVGSVGElement, background: string): string {
	const copy = drawing.cloneNode(true) as SVGSVGElement;
	const [from, to] = [drawing, copy].map((svg) => [svg, ...svg.querySelectorAll<SVGElement>("*")]);
	from?.forEach((element, index) => {
		const style = getComputedStyle(element);
		const target = to?.[index];
		if (!target) return;
		for (const name of STYLES) target.setAttribute(name, style.getPropertyValue(name));
		target.removeAttribute("class");
		target.removeAttribute("style");
	});
	const { width, height } = drawing.getBoundingClientRect();
	copy.setAttribute("xmlns", SVG);
	copy.setAttribute("width", String(width));
	copy.setAttribute("height", String(height));
	const ground = document.createElementNS(SVG, "rect");
	ground.setAttribute("width", "100%");
	ground.setAttribute("height", "100%");
	ground.setAttribute("fill", background);
	copy.prepend(ground);
	return new XMLSerializer().serializeToString(copy);
}

/** The same as dots. */
export async function dots(svg: string, width: number, height: number): Promise<Blob> {
	const image = new Image();
	image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
	await image.decode();
	const canvas = document.createElement("canvas");
	canvas.width = Math.round(width * SCALE);
	canvas.height = Math.round(height * SCALE);
	canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
	return new Promise((resolve, reject) =>
		canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error("The picture could not be drawn."))), "image/png"),
	);
}
