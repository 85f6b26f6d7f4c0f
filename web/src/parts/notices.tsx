import { Alert, Button, Snackbar } from "@mui/material";
import { create } from "zustand";
import { Refused, Unreachable } from "../api/client";

interface Notice {
  id: number;
  text: string;
  fault: boolean;
  action?: { label: string; run: () => void };
}

const useNotices = create<{ notice: Notice | null }>(() => ({ notice: null }));
let count = 0;

/** Say something in passing; with an action it can be taken back at once. */
export function say(text: string, action?: Notice["action"]): void {
  useNotices.setState({ notice: { id: ++count, text, fault: false, action } });
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
      autoHideDuration={notice?.fault || notice?.action ? 9000 : 3500}
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
      </Alert>
    </Snackbar>
  );
}
