// dotnet run, with the settings in the environment. Prints an access token (RFC 6749 §4.4).
using System.Net.Http.Headers;
using System.Text;

string Env(string name) => Environment.GetEnvironmentVariable(name) ?? "";
var form = new Dictionary<string, string> { ["grant_type"] = "client_credentials", ["scope"] = Env("SCOPE") };
using var http = new HttpClient();
if (Env("AUTH_METHOD") == "client_secret_post") {
    form["client_id"] = Env("CLIENT_ID");
    form["client_secret"] = Env("CLIENT_SECRET");
} else {
    var pair = $"{Uri.EscapeDataString(Env("CLIENT_ID"))}:{Uri.EscapeDataString(Env("CLIENT_SECRET"))}";
    http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Basic",
        Convert.ToBase64String(Encoding.ASCII.GetBytes(pair)));
}
var answer = await http.PostAsync(Env("TOKEN_ENDPOINT"), new FormUrlEncodedContent(form));
Console.WriteLine(await answer.Content.ReadAsStringAsync()); // {"access_token": …, "expires_in": …} or {"error": …}
return answer.IsSuccessStatusCode ? 0 : 1;
