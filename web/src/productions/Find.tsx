import { useQuery } from "@tanstack/react-query";
import { Link } from "wouter";
import { api, got } from "../api/client";
import { Icon } from "../parts/Icon";
import { ago } from "../parts/when";

/** A field for a name, or words that stand in a shot. */
export function FindField({ text, onChange }: { text: string; onChange: (text: string) => void }) {
  return (
    <label className="find">
      <Icon name="search" size={15} />
      <input
        className="plain-input"
        type="search"
        value={text}
        maxLength={120}
        aria-label="Find shots by name or words"
        placeholder="Find by name or words"
        onChange={(e) => onChange(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && onChange("")}
      />
    </label>
  );
}

/** Shots and sequences of all productions that hold a text. */
export function Found({ text }: { text: string }) {
  const wanted = text.trim();
  const { data, error } = useQuery({
    queryKey: ["search", wanted],
    queryFn: () => got(api.GET("/api/search", { params: { query: { text: wanted } } })),
    placeholderData: (before) => before,
    staleTime: 5000,
  });
  if (error) return <div className="empty">{error.message}</div>;
  if (!data) return null;
  if (!data.length) return <div className="empty">Nothing is called “{wanted}”, and no words are.</div>;
  return (
    <ul className="found" aria-label="found">
      {data.map((one) => (
        <li key={one.id}>
          <Link href={`/${one.kind}s/${one.id}`}>
            <b>{one.name}</b>
            {one.words && <span>{one.words.replaceAll("\n", " ")}</span>}
            <span className="muted">
              {one.kind} in {one.of} · {ago(one.changed)}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
