package dev.admit.server.pages;

import dev.admit.contract.ConnectingView;
import dev.admit.core.registry.Client;
import dev.admit.server.programs.ConnectClient;
import dev.admit.server.programs.Starter;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;

/** Programs for the first call of a client, for the person who owns it; as a page, and as a project in a zip. */
@Controller
class ProgramPages {
    private final Visits visits;
    private final Render render;
    private final CatalogueReader readers;
    private final CataloguePages catalogue;
    private final ConnectClient connect;

    ProgramPages(
            Visits visits, Render render, CatalogueReader readers, CataloguePages catalogue, ConnectClient connect) {
        this.visits = visits;
        this.render = render;
        this.readers = readers;
        this.catalogue = catalogue;
        this.connect = connect;
    }

    private interface Found {
        void on(Visit visit, CatalogueReader.Who who, Client client) throws IOException;
    }

    @GetMapping("/{issuer}/programs/{client}")
    void page(
            @PathVariable String issuer,
            @PathVariable String client,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        find(issuer, client, request, response, (visit, who, found) -> {
            Map<String, Object> values = catalogue.common(visit, who, "programs/" + found.id());
            values.put("client", found);
            values.put("connecting", connect.of(visit.issuer().issuer(), found));
            render.page(visit, "programs", values);
        });
    }

    @GetMapping("/{issuer}/programs/{client}/starter.zip")
    void zip(
            @PathVariable String issuer,
            @PathVariable String client,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        find(issuer, client, request, response, (visit, who, found) -> {
            ConnectingView view = connect.of(visit.issuer().issuer(), found);
            byte[] bytes = Starter.zip(found.name(), view);
            response.setContentType("application/zip");
            response.setHeader("Content-Disposition", "attachment; filename=\"" + found.name() + ".zip\"");
            response.setHeader("X-Content-Type-Options", "nosniff");
            response.setHeader("Cache-Control", "no-store");
            response.setContentLength(bytes.length);
            response.getOutputStream().write(bytes);
        });
    }

    /** Nobody finds the client of another. */
    private void find(
            String issuer, String client, HttpServletRequest request, HttpServletResponse response, Found page)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            CatalogueReader.Who who = readers.of(visit);
            Optional<Client> found = who.clients().stream()
                    .filter(it -> it.id().equals(client))
                    .findFirst()
                    .flatMap(it -> readers.client(visit.issuer().issuer(), it));
            if (found.isPresent()) page.on(visit, who, found.get());
            else catalogue.notFound(visit, "No client of yours has this id");
        });
    }
}
