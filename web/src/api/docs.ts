// The page at /api/docs: the OpenAPI document as it is served, with nothing from outside.
// @ts-expect-error the bundle comes without types
import SwaggerUIBundle from "swagger-ui-dist/swagger-ui-es-bundle.js";
import "swagger-ui-dist/swagger-ui.css";

SwaggerUIBundle({ url: "/api/openapi.json", dom_id: "#docs", docExpansion: "none", validatorUrl: null });
