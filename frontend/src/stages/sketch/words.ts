import type { ToolWords } from "../../bench/commands";
import { tr } from "../../words/words";

/** What the tools of Sketch say of themselves, and what else they may be looked for by. */
export const SKETCH_WORDS: ToolWords = {
  pencil: { does: tr("Draw; pressure gives tone and width."), means: tr("pen draw line sketch graphite") },
  fineliner: { does: tr("Draw crisp, even lines."), means: tr("ink pen line clean technical") },
  marker: {
    does: tr("Lay broad, even tone that darkens where it overlaps."),
    means: tr("brush felt alcohol shade tone"),
  },
  mist: { does: tr("Spray soft tone."), means: tr("airbrush spray soft gradient brush") },
  grain: { does: tr("Rub grainy tone over the paper’s tooth."), means: tr("chalk charcoal texture pastel") },
  lifter: { does: tr("Take drawing away where you go over it."), means: tr("eraser rubber erase delete remove") },
  numbers: {
    does: tr("Draw a line through places that are typed."),
    means: tr("coordinates points keyboard exact type draw line"),
  },
  "take-colour": {
    does: tr("Touch the page to draw with its colour."),
    means: tr("eyedropper pipette sample color pick"),
  },
  mirror: {
    does: tr("Draw on both sides of an axis at once, or around a centre."),
    means: tr("mirror symmetric reflect radial"),
  },
  straightedge: { does: tr("Set a straight guide; lines near it hold to it."), means: tr("ruler line straight guide") },
  ellipse: { does: tr("Set an ellipse guide by its middle and axes."), means: tr("circle oval guide template round") },
  sweep: {
    does: tr("Set a curve template that can be turned and stretched until it fits."),
    means: tr("french curve template spline guide bend"),
  },
  divide: {
    does: tr("Divide a rectangle evenly, square-on or in perspective, and carry it on."),
    means: tr("repeat diagonal equal spacing grid"),
  },
  perspective: {
    does: tr("Set a grid with one, two or three vanishing points."),
    means: tr("vanishing point grid horizon 3d"),
  },
  "construction-box": {
    does: tr("Set a box of the product’s size in mm into the perspective."),
    means: tr("cube bounding size dimension 3d volume"),
  },
  circle: { does: tr("Set a circle on a face of the construction box."), means: tr("ellipse round wheel perspective") },
  direct: {
    does: tr("Every line holds to a direction of the perspective."),
    means: tr("snap perspective direction constrain"),
  },
  hold: { does: tr("Lines that begin near a guide hold to it."), means: tr("snap guide stick magnet") },
  lines: {
    does: tr("Pick drawn lines to move, bend, recolour or remove them."),
    means: tr("select edit move line stroke arrow"),
  },
  "cut-out": { does: tr("Take a piece out of picked lines."), means: tr("trim cut split break") },
  lasso: { does: tr("Select inside a loop drawn by hand."), means: tr("select freehand area") },
  box: { does: tr("Select inside a rectangle."), means: tr("select rectangle marquee area") },
  region: { does: tr("Select what lines enclose."), means: tr("select area enclosed magic inside") },
  invert: { does: tr("Select everything but this."), means: tr("invert opposite outside selection") },
  nothing: { does: tr("Let go of the selection."), means: tr("deselect clear cancel none") },
  fill: { does: tr("Fill what lines enclose with colour."), means: tr("bucket paint colour flood area") },
  gradient: { does: tr("Lay one colour running into another."), means: tr("blend fade ramp shade") },
  "fill-selection": { does: tr("Fill all that is selected."), means: tr("paint colour selected") },
  clear: {
    does: tr("Remove what is inside the selection, or the picked lines."),
    means: tr("delete erase remove cut"),
  },
  "clear-outside": { does: tr("Remove what is outside the selection."), means: tr("delete erase crop outside mask") },
  "move-paint": { does: tr("Move what is selected."), means: tr("move transform shift drag paint") },
  light: {
    does: tr("Shade a form from one light, and cast its shadow."),
    means: tr("shade shadow light tone cast shading"),
  },
  words: { does: tr("Write on the page; words stay words."), means: tr("text type title label write") },
  callout: { does: tr("Point at something and say what it is."), means: tr("label leader annotation note text") },
  dimension: { does: tr("Draw a dimension between two ends."), means: tr("measure size length annotation mm") },
  arrow: { does: tr("Draw an arrow."), means: tr("pointer direction annotation") },
  frame: {
    does: tr("Frame what belongs together, as front, side or top, to stand behind the form."),
    means: tr("view region crop reference pin"),
  },
  "move-view": { does: tr("Move a framed view about the page."), means: tr("arrange layout move") },
  overview: {
    does: tr("See all sheets at once, and put them in order."),
    means: tr("pages gallery contact sheet thumbnails"),
  },
  "new-layer": { does: tr("Draw on a new sheet of film over the others."), means: tr("layer add ink") },
  "new-tone": { does: tr("Shade on a layer of its own, to be recoloured later."), means: tr("layer add paint colour") },
  "new-notes": { does: tr("Keep words on a layer of their own."), means: tr("layer add text") },
  "new-group": { does: tr("Keep layers together."), means: tr("folder layer group") },
  picture: {
    does: tr("Place a photo or a drawing on the page, or bring layers in."),
    means: tr("import image photo insert file open"),
  },
  "new-sheet": { does: tr("Begin another page."), means: tr("page add blank new") },
  sprint: {
    does: tr("Draw against the clock with everything else hidden."),
    means: tr("timer ideas thumbnails quick focus"),
  },
  fit: { does: tr("See the whole page."), means: tr("zoom fit reset view") },
  nearer: { does: tr("Come nearer."), means: tr("zoom in closer") },
  farther: { does: tr("Go farther away."), means: tr("zoom out") },
  "turn-left": { does: tr("Turn the page to the left."), means: tr("rotate paper canvas") },
  "turn-right": { does: tr("Turn the page to the right."), means: tr("rotate paper canvas") },
  png: { does: tr("Save the page as a picture."), means: tr("export save image download") },
  "png-2": { does: tr("Save the page as a finer picture."), means: tr("export save image download resolution") },
  "png-3": { does: tr("Save the page as a finer picture."), means: tr("export save image download resolution") },
  "png-4": {
    does: tr("Save the page as the finest picture."),
    means: tr("export save image download resolution print"),
  },
  pdf: { does: tr("Save the page to print, its words as text."), means: tr("export print save document") },
  svg: { does: tr("Save the lines as vectors."), means: tr("export vector save") },
  ora: { does: tr("Save the page with its layers."), means: tr("export layers save openraster") },
  smaller: { does: tr("A smaller nib."), means: tr("brush size thinner") },
  larger: { does: tr("A larger nib."), means: tr("brush size thicker bigger") },
  paler: { does: tr("A paler tone."), means: tr("lighter opacity weaker") },
  darker: { does: tr("A darker tone."), means: tr("stronger opacity heavier") },
};
