from django.urls import path
from drf_spectacular.views import SpectacularJSONAPIView

from .across.urls import urlpatterns as across
from .almanac.urls import urlpatterns as almanac
from .catalogue.urls import urlpatterns as catalogue
from .changes.urls import urlpatterns as changes
from .desk.urls import urlpatterns as desk
from .families.urls import urlpatterns as families
from .faults.urls import urlpatterns as faults
from .grouping.urls import urlpatterns as grouping
from .intake.urls import urlpatterns as intake
from .ledger.urls import urlpatterns as ledger
from .lists.urls import urlpatterns as lists
from .niche.urls import urlpatterns as niche
from .orders.urls import urlpatterns as orders
from .own_part.urls import urlpatterns as own_part
from .plans.urls import urlpatterns as plans
from .proof.urls import urlpatterns as proof
from .protected.urls import urlpatterns as protected
from .registry.urls import urlpatterns as registry
from .rivals.urls import urlpatterns as rivals
from .settings.urls import urlpatterns as settings
from .terms.urls import urlpatterns as terms
from .voices.urls import urlpatterns as voices
from .watch.urls import urlpatterns as watch

urlpatterns = [
    path("schema/", SpectacularJSONAPIView.as_view(), name="schema"),
    *registry,
    *settings,
    *ledger,
    *niche,
    *voices,
    *terms,
    *families,
    *catalogue,
    *rivals,
    *almanac,
    *orders,
    *own_part,
    *plans,
    *watch,
    *proof,
    *across,
    *grouping,
    *lists,
    *desk,
    *protected,
    *intake,
    *changes,
    *faults,
]
