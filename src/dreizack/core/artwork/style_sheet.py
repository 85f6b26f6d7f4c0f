"""Rules of a drawing's style sheets, by element."""

from __future__ import annotations

from xml.etree.ElementTree import Element

import cssselect2
import tinycss2

# Bytes of style sheets that are read at most, and rules.
MAX_BYTES, MAX_RULES = 2_000_000, 5_000

Declared = dict[str, str]


class StyleSheet:
    """What style sheets of a tree say of its elements (CSS Selectors 4, CSS Cascading 4: what is more
    specific or comes later holds, ``!important`` above all)."""

    def __init__(self, root: Element, text: str) -> None:
        self._matcher = cssselect2.Matcher()
        # Selectors that are not read, each named once.
        self.unread: list[str] = []
        self._wrapped: dict[Element, cssselect2.ElementWrapper] = {}
        rules = tinycss2.parse_stylesheet(text[:MAX_BYTES], skip_comments=True, skip_whitespace=True)
        for rule in rules[:MAX_RULES]:
            if rule.type != "qualified-rule":
                continue
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except cssselect2.SelectorError:
                self.unread.append(tinycss2.serialize(rule.prelude).strip()[:40])
                continue
            said = declared(rule.content)
            for selector in selectors:
                self._matcher.add_selector(selector, said)
        if self._matcher.lower_local_name_selectors or rules:
            wrapped = cssselect2.ElementWrapper.from_xml_root(root)
            self._wrapped = {one.etree_element: one for one in wrapped.iter_subtree()}

    def of(self, element: Element) -> Declared:
        """What holds of an element: what rules and its ``style`` say, each important or not."""
        plain: Declared = {}
        strong: Declared = {}
        wrapped = self._wrapped.get(element)
        for _, _, _, (normal, important) in self._matcher.match(wrapped) if wrapped is not None else ():
            plain.update(normal)
            strong.update(important)
        normal, important = declared(element.get("style") or "")
        return {**plain, **normal, **strong, **important}


def declared(content: object) -> tuple[Declared, Declared]:
    """Declarations of a rule or a ``style`` attribute, and those that are important."""
    normal: Declared = {}
    important: Declared = {}
    for one in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if one.type == "declaration":
            into = important if one.important else normal
            into[one.lower_name] = tinycss2.serialize(one.value).strip()
    return normal, important
