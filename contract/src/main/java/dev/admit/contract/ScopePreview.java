package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;

/**
 * What a scope would mean that is not saved.
 *
 * @param consequenceReads as its readers would find it
 */
public record ScopePreview(
        @JsonProperty("consequence_reads") ScopeView.Reads consequenceReads) {}
