import { ListItemIcon, Menu, MenuItem } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { sayFault } from "../../parts/notices";
import { useSession } from "../document/context";
import { ACCEPTED, bringThing } from "./bring";
import { FILE_TO_BRING, useAddable } from "./useAddable";

/** The menu of what can be added to a shot. */
export function AddThings({ anchor, onClose }: { anchor: HTMLElement | null; onClose: () => void }) {
  const session = useSession();
  const addable = useAddable();
  async function bring(files: FileList | null) {
    for (const one of files ?? [])
      await bringThing(session, one).catch((why: unknown) => sayFault(why, one.name));
  }
  return (
    <>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={onClose} transitionDuration={0}>
        {addable.map(({ label, icon, run }) => (
          <MenuItem
            key={label}
            onClick={() => {
              onClose();
              run();
            }}
          >
            <ListItemIcon>
              <Icon name={icon} size={16} />
            </ListItemIcon>
            {label}
          </MenuItem>
        ))}
      </Menu>
      <input
        type="file"
        hidden
        multiple
        accept={ACCEPTED}
        aria-label={FILE_TO_BRING}
        onChange={(e) => void bring(e.target.files).then(() => (e.target.value = ""))}
      />
    </>
  );
}
