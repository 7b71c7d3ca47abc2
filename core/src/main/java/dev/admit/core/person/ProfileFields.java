package dev.admit.core.person;

import java.util.List;
import java.util.Optional;

/** The profile fields that are kept, beside the standard ones. */
public interface ProfileFields {
    void insert(ProfileField field);

    void update(ProfileField field);

    void delete(String fieldId);

    Optional<ProfileField> named(String issuerId, String name);

    /** By name. */
    List<ProfileField> of(String issuerId);
}
