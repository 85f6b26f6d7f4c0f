import { Tooltip } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, got } from "../api/client";

interface Props {
  words: string;
  width: number;
  height: number;
  chosen: string;
  onChoose: (name: string) => void;
}

/** Milliseconds without typing after which pictures are asked for, and between two questions for one. */
const REST = 600;
const AGAIN = 2500;

/** Whole looks to begin with, as pictures of one's own words. */
export function Starts({ words, width, height, chosen, onChoose }: Props) {
  const starts =
    useQuery({ queryKey: ["starts"], queryFn: () => got(api.GET("/api/starts")), staleTime: Infinity })
      .data ?? [];
  const [shown, setShown] = useState(words);
  useEffect(() => {
    const timer = setTimeout(() => setShown(words), REST);
    return () => clearTimeout(timer);
  }, [words]);
  const query = new URLSearchParams({
    words: shown.trim().slice(0, 80) || "WORDS",
    width: String(width),
    height: String(height),
  });
  return (
    <div className="starts" role="radiogroup" aria-label="How it looks to begin with">
      {starts.map(({ name, label, tells }) => (
        <Tooltip key={name} title={tells}>
          <button
            type="button"
            role="radio"
            aria-checked={name === chosen}
            onClick={() => onChoose(name)}
            data-arrows
          >
            <Picture address={`/api/starts/${name}/picture?${query}`} shape={width / height} />
            <span>{label}</span>
          </button>
        </Tooltip>
      ))}
    </div>
  );
}

/** A picture that may still be made: asked for again until it is there. */
function Picture({ address, shape }: { address: string; shape: number }) {
  const [state, setState] = useState({ address, times: 0, here: false });
  const now = state.address === address ? state : { address, times: 0, here: false };
  useEffect(() => {
    if (now.times === 0 || now.here) return;
    const timer = setTimeout(
      () => setState((s) => (s.address === address ? { ...s, times: s.times + 1 } : s)),
      AGAIN,
    );
    return () => clearTimeout(timer);
  }, [address, now.times, now.here]);
  return (
    <span className="start-picture" style={{ aspectRatio: shape }}>
      {now.times % 2 === 0 && (
        <img
          src={now.times ? `${address}&again=${now.times}` : address}
          alt=""
          style={now.here ? undefined : { visibility: "hidden" }}
          onLoad={() => setState({ address, times: now.times, here: true })}
          onError={() => setState({ address, times: now.times + 1, here: false })}
        />
      )}
      {!now.here && <i>on its way …</i>}
    </span>
  );
}
