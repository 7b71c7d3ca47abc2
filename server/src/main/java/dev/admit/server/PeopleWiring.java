package dev.admit.server;

import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.DeviceRequests;
import dev.admit.core.authorize.Authorize;
import dev.admit.core.authorize.DeviceApproval;
import dev.admit.core.authorize.TrialSignIns;
import dev.admit.core.authorize.UserInfo;
import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientauth.SlowedGuessing;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.grant.EndGrant;
import dev.admit.core.grant.StartDevice;
import dev.admit.core.grant.TokensForPerson;
import dev.admit.core.mail.MailedCodes;
import dev.admit.core.mail.Mails;
import dev.admit.core.mail.RevealMail;
import dev.admit.core.mail.SendCode;
import dev.admit.core.mail.WriteMail;
import dev.admit.core.owner.NameOwners;
import dev.admit.core.owner.OwnerRights;
import dev.admit.core.owner.Owners;
import dev.admit.core.owner.TellOwners;
import dev.admit.core.person.Credentials;
import dev.admit.core.person.PasswordHashing;
import dev.admit.core.person.People;
import dev.admit.core.person.ProfileFields;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Roles;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.Routes;
import dev.admit.core.signin.EndSignIns;
import dev.admit.core.signin.FieldRegistration;
import dev.admit.core.signin.OwnAccount;
import dev.admit.core.signin.PersonRegistration;
import dev.admit.core.signin.ProfileReading;
import dev.admit.core.signin.SecondFactor;
import dev.admit.core.signin.Sessions;
import dev.admit.core.signin.SignIn;
import dev.admit.core.signin.SignUp;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.tries.Strangers;
import dev.admit.core.tries.Tries;
import dev.admit.server.console.ConsoleAddresses;
import dev.admit.store.Database;
import dev.admit.store.SqliteAuthorizationGrants;
import dev.admit.store.SqliteCredentials;
import dev.admit.store.SqliteDeviceRequests;
import dev.admit.store.SqliteMailedCodes;
import dev.admit.store.SqliteMails;
import dev.admit.store.SqliteOwners;
import dev.admit.store.SqlitePeople;
import dev.admit.store.SqlitePersonalApprovals;
import dev.admit.store.SqliteProfileFields;
import dev.admit.store.SqliteSessions;
import java.time.Clock;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** Which part is made of which, for all that has a person in it. */
@Configuration(proxyBeanMethods = false)
class PeopleWiring {

    @Bean
    People people(Database database) {
        return new SqlitePeople(database);
    }

    @Bean
    Credentials credentials(Database database) {
        return new SqliteCredentials(database);
    }

    @Bean
    ProfileFields profileFields(Database database) {
        return new SqliteProfileFields(database);
    }

    @Bean
    Sessions sessions(Database database) {
        return new SqliteSessions(database);
    }

    @Bean
    PersonalApprovals personalApprovals(Database database) {
        return new SqlitePersonalApprovals(database);
    }

    @Bean
    AuthorizationGrants grants(Database database) {
        return new SqliteAuthorizationGrants(database);
    }

    @Bean
    DeviceRequests deviceRequests(Database database) {
        return new SqliteDeviceRequests(database);
    }

    @Bean
    PasswordHashing passwordHashing() {
        return new Argon2();
    }

    @Bean
    SignIn signIn(
            People people,
            Credentials credentials,
            Sessions sessions,
            PasswordHashing hashing,
            SlowedGuessing guessing,
            Tries tries,
            Withdrawal withdrawal,
            Database database,
            Audit audit) {
        return new SignIn(people, credentials, sessions, hashing, guessing, tries, withdrawal, database, audit);
    }

    @Bean
    ProfileReading profileReading(ProfileFields fields) {
        return new ProfileReading(fields);
    }

    @Bean
    EndSignIns endSignIns(Sessions sessions, AuthorizationGrants grants, Clock clock) {
        return new EndSignIns(sessions, grants, clock);
    }

    @Bean
    PersonRegistration personRegistration(
            Database database,
            People people,
            Credentials credentials,
            ProfileReading profiles,
            Roles roles,
            PasswordHashing hashing,
            EndSignIns end,
            Owners owners,
            Scopes scopes,
            Withdrawal withdrawal,
            Audit audit,
            Clock clock) {
        return new PersonRegistration(
                database, people, credentials, profiles, roles, hashing, end, owners, scopes, withdrawal, audit, clock);
    }

    @Bean
    OwnAccount ownAccount(
            Database database,
            People people,
            Credentials credentials,
            ProfileReading profiles,
            PersonalApprovals personal,
            PasswordHashing hashing,
            EndSignIns end,
            Withdrawal withdrawal,
            Audit audit,
            Clock clock) {
        return new OwnAccount(
                database, people, credentials, profiles, personal, hashing, end, withdrawal, audit, clock);
    }

    @Bean
    FieldRegistration fieldRegistration(Database database, ProfileFields fields, Audit audit, LiveConfiguration live) {
        return new FieldRegistration(database, fields, audit, live);
    }

    @Bean
    TrialSignIns trialSignIns(AuthorizationServer.Opened opened, Clock clock) {
        return new TrialSignIns(opened.masterKey(), opened.publicUrl() + ConsoleAddresses.TRIED, clock);
    }

    @Bean
    Authorize authorize(
            KnownClients clients,
            TrialSignIns trials,
            PersonalApprovals personal,
            AuthorizationGrants grants,
            SecondFactor factor,
            Database database,
            Audit audit) {
        return new Authorize(clients, trials, personal, grants, factor, database, audit);
    }

    @Bean
    TokensForPerson tokensForPerson(
            AuthorizationGrants grants,
            People people,
            Sessions sessions,
            PersonalApprovals personal,
            Database database) {
        return new TokensForPerson(grants, people, sessions, personal, database);
    }

    @Bean
    EndGrant endGrant(AuthorizationGrants grants, Withdrawal withdrawal, Audit audit) {
        return new EndGrant(grants, withdrawal, audit);
    }

    @Bean
    StartDevice startDevice(Strangers strangers, AuthenticateClient authenticate, DeviceRequests devices) {
        return new StartDevice(authenticate, devices, strangers);
    }

    @Bean
    Mails mails(Database database) {
        return new SqliteMails(database);
    }

    @Bean
    MailedCodes mailedCodes(Database database) {
        return new SqliteMailedCodes(database);
    }

    @Bean
    WriteMail writeMail(Database database, Mails mails, AuthorizationServer.Opened opened, Clock clock) {
        return new WriteMail(
                database,
                mails,
                opened.settings().smtp().map(it -> new SmtpPost(it, mails, clock)),
                opened.masterKey());
    }

    @Bean
    RevealMail revealMail(Mails mails, People people, AuthorizationServer.Opened opened, Audit audit, Clock clock) {
        return new RevealMail(mails, people, opened.masterKey(), audit, clock);
    }

    @Bean
    SendCode sendCode(WriteMail mail, MailedCodes codes) {
        return new SendCode(mail, codes);
    }

    @Bean
    Owners owners(Database database) {
        return new SqliteOwners(database);
    }

    @Bean
    NameOwners nameOwners(Database database, Owners owners, People people, Audit audit, Clock clock) {
        return new NameOwners(database, owners, people, audit, clock);
    }

    @Bean
    OwnerRights ownerRights(
            Owners owners,
            Approvals approvals,
            Scopes scopes,
            Routes routes,
            Plans plans,
            Subscriptions subscriptions) {
        return new OwnerRights(owners, approvals, scopes, routes, plans, subscriptions);
    }

    @Bean
    TellOwners tellOwners(Owners owners, Apis apis, Scopes scopes, WriteMail mail, Clock clock) {
        return new TellOwners(owners, apis, scopes, mail, clock);
    }

    @Bean
    SignUp signUp(
            People people,
            PersonRegistration registration,
            OwnAccount account,
            ProfileReading profiles,
            SendCode codes) {
        return new SignUp(people, registration, account, profiles, codes);
    }

    @Bean
    DeviceApproval deviceApproval(
            KnownClients clients,
            DeviceRequests devices,
            AuthorizationGrants grants,
            PersonalApprovals personal,
            SecondFactor factor,
            SlowedGuessing guessing,
            Tries tries,
            Database database,
            Audit audit) {
        return new DeviceApproval(clients, devices, grants, personal, factor, guessing, tries, database, audit);
    }

    @Bean
    SecondFactor secondFactor(
            Tries tries, Credentials credentials, AuthorizationServer.Opened opened, Database database, Audit audit) {
        return new SecondFactor(credentials, opened.masterKey(), tries, database, audit);
    }

    @Bean
    UserInfo userInfo(BearerDoor door, People people) {
        return new UserInfo(door, people);
    }
}
