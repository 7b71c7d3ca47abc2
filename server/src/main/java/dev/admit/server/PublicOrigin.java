package dev.admit.server;

import java.net.URI;
import org.springframework.stereotype.Component;

/** The address by which browsers know the authorization server, without a path. */
@Component
public class PublicOrigin {
    private final URI url;

    PublicOrigin(AuthorizationServer.Opened opened) {
        this.url = opened.publicUrl();
    }

    public URI url() {
        return url;
    }

    /** Whether browsers come by https, where they can be held to more. */
    public boolean secure() {
        return "https".equals(url.getScheme());
    }

    @Override
    public String toString() {
        return url.toString();
    }
}
