package dev.admit.contract;

import java.util.List;

/**
 * What an OpenAPI document came to, or would come to.
 *
 * @param loaded whether it is saved
 * @param sha256 of the document, in hexadecimal
 * @param steps what is added and changed
 * @param gone routes of the API that answer no operation of the document; they stay until they are removed
 * @param notes where the document could not be followed, and what is worth a look
 */
public record OpenApiLoaded(
        String api, boolean loaded, String sha256, List<SetupView.Step> steps, List<String> gone, List<String> notes) {}
