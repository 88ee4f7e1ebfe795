"""What can be done with readings; each use case is a file."""

from .analyse_market import analyse_all, analyse_market, stale
from .choose_language import choose_language
from .choose_own import choose_own
from .choose_settings import choose_settings, pending
from .link_figures import link_figures, unlink
from .mark_protected import mark_protected
from .name_niches import name_niches
from .overrule import OVERRULED, overrule
from .plan_market import choose_planning
from .propose import proposal_sentence, propose, proposed_tables
from .replay_past import claim_due_replay, replay_past, replay_sentence

__all__ = [
    "OVERRULED",
    "analyse_all",
    "analyse_market",
    "choose_language",
    "choose_own",
    "choose_planning",
    "choose_settings",
    "claim_due_replay",
    "link_figures",
    "mark_protected",
    "name_niches",
    "overrule",
    "pending",
    "proposal_sentence",
    "propose",
    "proposed_tables",
    "replay_past",
    "replay_sentence",
    "stale",
    "unlink",
]
