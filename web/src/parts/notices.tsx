import { Alert, Button, LinearProgress, Snackbar } from "@mui/material";
import { create } from "zustand";
import { Refused, Unreachable } from "../api/client";

interface Notice {
  id: number;
  text: string;
  fault: boolean;
  /** How far something is that takes a while, 0 to 1: the notice stays until another one comes. */
  share?: number;
  action?: { label: string; run: () => void };
}

const useNotices = create<{ notice: Notice | null }>(() => ({ notice: null }));
let count = 0;

/** Say something in passing; with an action it can be taken back at once. */
export function say(text: string, action?: Notice["action"]): void {
  useNotices.setState({ notice: { id: ++count, text, fault: false, action } });
}

/** Say what is being done, and how far it is; once it is done something else is said. */
export function sayShare(text: string, share: number): void {
  const { notice } = useNotices.getState();
  // The same notice goes on, so that it does not blink.
  const id = notice?.share === undefined ? ++count : notice.id;
  useNotices.setState({ notice: { id, text, fault: false, share } });
}

/** What was being done is over: nothing more is said of it. */
export function quiet(): void {
  if (useNotices.getState().notice?.share !== undefined) useNotices.setState({ notice: null });
}

/** Say what went wrong, to what, and what to do. */
export function sayFault(why: unknown, about = ""): void {
  const text =
    why instanceof Refused || why instanceof Unreachable
      ? why.message
      : `Something unexpected happened: ${String(why)}`;
  const sentence = text.charAt(0).toUpperCase() + text.slice(1);
  useNotices.setState({
    notice: { id: ++count, text: about ? `${about}: ${sentence}` : sentence, fault: true },
  });
}

export function Notices() {
  const notice = useNotices((s) => s.notice);
  const close = () => useNotices.setState({ notice: null });
  return (
    <Snackbar
      key={notice?.id}
      open={notice !== null}
      autoHideDuration={notice?.share !== undefined ? null : notice?.fault || notice?.action ? 9000 : 3500}
      onClose={(_, reason) => reason !== "clickaway" && close()}
      anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
    >
      <Alert
        severity={notice?.fault ? "error" : "success"}
        variant="outlined"
        icon={false}
        sx={{
          bgcolor: "#000",
          maxWidth: 520,
          borderColor: notice?.fault ? "error.main" : "divider",
          color: "text.primary",
        }}
        onClose={close}
        action={
          notice?.action && (
            <Button
              color="primary"
              onClick={() => {
                notice.action?.run();
                close();
              }}
            >
              {notice.action.label}
            </Button>
          )
        }
      >
        {notice?.text}
        {notice?.share !== undefined && (
          <LinearProgress
            variant="determinate"
            value={100 * notice.share}
            aria-label={notice.text}
            sx={{ mt: 1, minWidth: 280 }}
          />
        )}
      </Alert>
    </Snackbar>
  );
}
