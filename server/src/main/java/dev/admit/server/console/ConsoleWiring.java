package dev.admit.server.console;

import dev.admit.server.PublicOrigin;
import org.springframework.boot.web.servlet.FilterRegistrationBean;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** Puts the console's doors before everything else below its address. */
@Configuration(proxyBeanMethods = false)
class ConsoleWiring {
    @Bean
    FilterRegistrationBean<ConsoleDoor> consoleDoor(ConsoleSessions sessions) {
        FilterRegistrationBean<ConsoleDoor> filter = new FilterRegistrationBean<>(new ConsoleDoor(sessions));
        filter.addUrlPatterns(ConsoleAddresses.API + "/*");
        return filter;
    }

    @Bean
    FilterRegistrationBean<ConsoleFiles> consoleFiles(PublicOrigin origin) {
        FilterRegistrationBean<ConsoleFiles> filter = new FilterRegistrationBean<>(new ConsoleFiles(origin));
        filter.addUrlPatterns(ConsoleAddresses.CONSOLE, ConsoleAddresses.CONSOLE + "/*");
        return filter;
    }
}
