import GlobalStyles from "@mui/material/GlobalStyles";
import { useParams } from "react-router";
import { pictureUrl, pieceShown, toProblem, type Piece } from "../../../api/client";
import { usePaper, usePiece } from "../../../api/pieces";
import { LostPage } from "../../../shell/LostPage";
import { cropMarks, lie, slugOf, USUAL, type Box as Rect } from "./paper";

/** The sheet by itself, at its true size, for the browser to print. */
export function PrintPage() {
  const id = Number(useParams().id);
  const { data: piece, error } = usePiece(id);
  if (!Number.isInteger(id)) return <LostPage />;
  if (error && !piece) return <LostPage detail={toProblem(error).message} />;
  return piece ? <Sheet piece={piece} /> : null;
}

function Sheet({ piece }: { piece: Piece }) {
  const { data: report } = usePaper(piece);
  if (!report) return null;
  const setup = { ...USUAL, ...piece.recipe.delivery?.paper };
  const [x, y, w, h] = lie(setup, [piece.width, piece.height], report.subject as unknown as Rect);
  const { width, height, bleed } = setup;
  const slug = slugOf(setup);
  const mm = (v: number) => `${v}mm`;
  const url = pictureUrl(pieceShown(piece), "picture", { x: 0, y: 0, width: piece.width, height: piece.height,
    scale: 1 });
  return (
    <>
      <title>{`${piece.title}, to print`}</title>
      <GlobalStyles styles={{ "@page": { size: `${mm(width + 2 * slug)} ${mm(height + 2 * slug)}`, margin: 0 },
        "html, body, #root": { margin: 0, padding: 0, background: "#ffffff", height: "auto", overflow: "visible" },
        "@media print": { "*": { printColorAdjust: "exact" } } }} />
      <div data-testid="print" style={{ position: "relative", width: mm(width + 2 * slug), height: mm(height
        + 2 * slug), overflow: "hidden" }}>
        <div style={{ position: "absolute", left: mm(slug - bleed), top: mm(slug - bleed), width: mm(width + 2
          * bleed), height: mm(height + 2 * bleed), overflow: "hidden", background: setup.around === "ground"
          ? piece.recipe.background : "#ffffff" }}>
          <img src={url} alt={piece.title} onLoad={() => { if (!navigator.webdriver) window.print(); }} style={{
            position: "absolute", left: mm(x + bleed), top: mm(y + bleed), width: mm(w), height: mm(h),
            maxWidth: "none" }} />
        </div>
        <svg viewBox={`${-slug} ${-slug} ${width + 2 * slug} ${height + 2 * slug}`} aria-hidden style={{
          position: "absolute", inset: 0, width: "100%", height: "100%" }}>
          {cropMarks(setup).map((m) => <line key={m.join()} x1={m[0]} y1={m[1]} x2={m[2]} y2={m[3]} stroke="#000000"
            strokeWidth={0.09} />)}
        </svg>
      </div>
    </>
  );
}
