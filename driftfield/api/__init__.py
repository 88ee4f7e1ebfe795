"""REST API: serializers, views and the OpenAPI schema."""
