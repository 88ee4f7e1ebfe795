"""Django settings of the simulated feed: no database, nothing but its requests."""

SECRET_KEY = "nothing is signed"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
INSTALLED_APPS = ["rest_framework", "drf_spectacular"]
MIDDLEWARE = [
    "driftfield.feedsim.faults.FaultMiddleware",
    "django.middleware.common.CommonMiddleware",
]
ROOT_URLCONF = "driftfield.feedsim.urls"
USE_TZ = True
TIME_ZONE = "UTC"
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [],
    "DEFAULT_PERMISSION_CLASSES": [],
    "UNAUTHENTICATED_USER": None,
    "DEFAULT_PARSER_CLASSES": ["rest_framework.parsers.JSONParser"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "driftfield.feedsim.errors.handle",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Market feed",
    "DESCRIPTION": "What Driftfield asks of a service that tells a market's figures week by week. Any request "
    "may be answered with 429 or 503 and Retry-After, and is asked again.",
    "VERSION": "1",
    "OAS_VERSION": "3.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "SECURITY": [{"token": []}],
    "APPEND_COMPONENTS": {"securitySchemes": {"token": {"type": "http", "scheme": "bearer"}}},
}
