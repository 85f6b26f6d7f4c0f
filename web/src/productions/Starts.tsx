import { Tooltip } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, got } from "../api/client";
import { Still } from "../parts/Still";

interface Props {
  words: string;
  width: number;
  height: number;
  chosen: string;
  onChoose: (name: string) => void;
}

/** Milliseconds without typing after which pictures are asked for. */
const REST = 600;

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
            <span className="start-picture" style={{ aspectRatio: width / height }}>
              <Still address={`/api/starts/${name}/picture?${query}`} meanwhile={<i>on its way …</i>} />
            </span>
            <span>{label}</span>
          </button>
        </Tooltip>
      ))}
    </div>
  );
}
