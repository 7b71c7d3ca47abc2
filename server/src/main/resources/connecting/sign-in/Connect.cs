// dotnet run prints where to send the browser, and a verifier to keep; dotnet run CODE VERIFIER exchanges the code
// that came back (RFC 6749 §4.1, RFC 7636). The settings are in the environment.
using System.Net.Http.Headers;
using System.Security.Cryptography;
using System.Text;

string Env(string name) => Environment.GetEnvironmentVariable(name) ?? "";
string Encoded(byte[] bytes) => Convert.ToBase64String(bytes).TrimEnd('=').Replace('+', '-').Replace('/', '_');
if (args.Length == 0) {
    var verifier = Encoded(RandomNumberGenerator.GetBytes(32));
    var challenge = Encoded(SHA256.HashData(Encoding.ASCII.GetBytes(verifier)));
    var query = new Dictionary<string, string> { ["response_type"] = "code", ["client_id"] = Env("CLIENT_ID"),
        ["redirect_uri"] = Env("REDIRECT_URI"), ["scope"] = Env("SCOPE"),
        ["state"] = Encoded(RandomNumberGenerator.GetBytes(16)), ["code_challenge"] = challenge,
            ["code_challenge_method"] = "S256" };
    Console.WriteLine(Env("AUTHORIZATION_ENDPOINT") + "?" + await new FormUrlEncodedContent(query).ReadAsStringAsync());
    // keep it and the state with the browser's session, and compare the state when the browser is back
    Console.WriteLine(verifier);
    return 0;
}
var form = new Dictionary<string, string> { ["grant_type"] = "authorization_code", ["code"] = args[0],
    ["code_verifier"] = args[1], ["redirect_uri"] = Env("REDIRECT_URI") };
using var http = new HttpClient();
var post = Env("AUTH_METHOD") == "client_secret_post";
if (Env("CLIENT_SECRET") == "" || post) form["client_id"] = Env("CLIENT_ID");
if (Env("CLIENT_SECRET") != "" && post) form["client_secret"] = Env("CLIENT_SECRET");
if (Env("CLIENT_SECRET") != "" && !post) {
    var pair = $"{Uri.EscapeDataString(Env("CLIENT_ID"))}:{Uri.EscapeDataString(Env("CLIENT_SECRET"))}";
    http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Basic",
        Convert.ToBase64String(Encoding.ASCII.GetBytes(pair)));
}
var answer = await http.PostAsync(Env("TOKEN_ENDPOINT"), new FormUrlEncodedContent(form));
Console.WriteLine(await answer.Content.ReadAsStringAsync());
return answer.IsSuccessStatusCode ? 0 : 1;
