"""What a researcher does at the desk; each use case is a file."""

from driftfield.desk.niche_changes import undo_change

from .analyse import analyse_all_and_watch, analyse_and_watch
from .decide import decide, decide_all
from .explain import explain
from .lenses import remove_lens, save_lens
from .lists import bring_back, drop_entries, note_list, remove_list, save_list
from .mail_digest import mail_digest
from .match import MatchDecision, match, undo_matches
from .money import save_costs, save_fees
from .niches import (
    decided_niches,
    make_niche,
    merge_niches,
    move_terms,
    rename_niche,
    take_out,
    take_over,
)
from .plans import keep_plan, keep_purse, keep_several, undo_plan
from .protect import protect, release
from .rates import set_rate
from .remark import NoteChangedError, arrange, remark
from .sieves import remove_sieve, save_sieve, save_sieves
from .themes import ThemeAct, decide_theme, pin, undo_theme, unpin
from .undo import latest, undo
from .watch import mark_seen

__all__ = [
    "MatchDecision",
    "NoteChangedError",
    "ThemeAct",
    "analyse_all_and_watch",
    "analyse_and_watch",
    "arrange",
    "bring_back",
    "decide",
    "decide_all",
    "decide_theme",
    "decided_niches",
    "drop_entries",
    "explain",
    "keep_plan",
    "keep_purse",
    "keep_several",
    "latest",
    "mail_digest",
    "make_niche",
    "mark_seen",
    "match",
    "merge_niches",
    "move_terms",
    "note_list",
    "pin",
    "protect",
    "release",
    "remark",
    "remove_lens",
    "remove_list",
    "remove_sieve",
    "rename_niche",
    "save_costs",
    "save_fees",
    "save_lens",
    "save_list",
    "save_sieve",
    "save_sieves",
    "set_rate",
    "take_out",
    "take_over",
    "undo",
    "undo_change",
    "undo_matches",
    "undo_plan",
    "undo_theme",
    "unpin",
]
