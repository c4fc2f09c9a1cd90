import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useEffect, useState, type ReactNode } from "react";
import type { Edit, Piece } from "../../api/client";
import { useChanges } from "../../api/pieces";
import { useCamera } from "../../picture/camera";
import { PictureView } from "../../picture/PictureView";
import { usePreview } from "../../picture/preview";
import { Workplace } from "../../shell/Workplace";
import { Seam } from "../../theme/Seam";
import { FileButton } from "../../ui/FileButton";
import { useLiveEdit } from "../useLiveEdit";
import { bringDrawing, leaveDrawing, useBringing, type Corrected } from "./corrected";
import { Outcome, paintPlaces } from "./Outcome";
import { VersionList } from "./VersionList";

interface Props {
  piece: Piece;
  lead: string;
  choice: ReactNode;
}

/** The drawing through its corrections: bring a new version, see what changes hands, go back. */
export function Versions({ piece, lead, choice }: Props) {
  const { edit } = useChanges(piece.id);
  const bringing = useBringing();
  const mine = bringing.piece === piece.id ? bringing : null;
  const bring = (file: File | undefined) => { if (file) void bringDrawing(piece.id, file); };
  if (mine?.offer) return <Offered piece={piece} lead={lead} choice={choice} offer={mine.offer} file={mine.file} />;
  return (
    <Workplace title="Lines" lead={lead} onDropFile={bring} picture={<PictureView piece={piece} kind="lines" />}>
      {choice}
      {mine && !mine.error ? (
        <Box role="status" sx={{ mb: 1 }}>
          <Typography noWrap>{mine.file}</Typography>
          <Typography variant="body2">{mine.job?.doing || "Sending"} …</Typography>
          <LinearProgress variant={mine.job ? "determinate" : "indeterminate"} value={100 * (mine.job?.progress ?? 0)}
            aria-label="Progress" sx={{ height: 6, borderRadius: 1, my: 1 }} />
          <Button color="inherit" onClick={leaveDrawing}>Cancel</Button>
        </Box>
      ) : (
        <>
          {mine?.error && (
            <Alert severity="warning" variant="outlined" onClose={leaveDrawing} sx={{ mb: 1 }}>{mine.error}</Alert>
          )}
          <FileButton label="Corrected drawing" accept="image/*,.svg" variant="outlined" fullWidth
            onFiles={([file]) => bring(file)}>Bring in a corrected drawing</FileButton>
          <Typography variant="body2" sx={{ mt: 0.75 }}>It may be shifted, turned or of another size: it is laid on
            the lines that both have in common. Parts, closings and touch-ups stay where they are.</Typography>
        </>
      )}
      <Seam />
      <VersionList piece={piece} onUse={(number) => void edit({ kind: "use_drawing", number })}
        onRemark={(number, remark) => void edit({ kind: "remark_drawing", number, remark })} />
    </Workplace>
  );
}

/** The piece on the corrected drawing, beside what it is now. */
function Offered({ piece, lead, choice, offer, file }: Props & { offer: Corrected; file: string }) {
  const live = useLiveEdit(piece);
  const [pointed, setPointed] = useState<string | null>(null);
  const camera = useCamera((s) => s.camera);
  const change = offer.edit as Edit;
  const gone = usePreview((s) => s.tile === null);
  useEffect(() => { live.show(change); }, [live, change, camera]);
  // A part of the picture that arrives takes the place of what was shown.
  useEffect(() => { if (gone) live.show(change); }, [live, change, gone]);
  useEffect(() => () => live.drop(), [live]);
  const take = async () => {
    if (await live.make(change)) leaveDrawing();
  };
  return (
    <Workplace title="Lines" lead={lead} picture={<PictureView piece={piece} kind="picture" compare="picture"
      sides="as it is │ corrected" overlay={(ctx, zoom) => paintPlaces(ctx, zoom, offer, pointed)} />}>
      {choice}
      <Outcome piece={piece} offer={offer} file={file} pointed={pointed} onPoint={setPointed}
        onTake={() => void take()} onLeave={leaveDrawing} />
    </Workplace>
  );
}
