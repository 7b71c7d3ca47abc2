// dotnet run, with the settings in the environment. Shows a code, and waits until a person has typed it (RFC 8628).
using System.Text.Json;

string Env(string name) => Environment.GetEnvironmentVariable(name) ?? "";
using var http = new HttpClient();
async Task<JsonElement> Post(string endpoint, Dictionary<string, string> form) =>
    JsonDocument.Parse(await (await http.PostAsync(Env(endpoint),
        new FormUrlEncodedContent(form))).Content.ReadAsStringAsync()).RootElement;
string Member(JsonElement json, string name) => json.TryGetProperty(name, out var value) ? value.ToString() : "";

var begun = await Post("DEVICE_AUTHORIZATION_ENDPOINT", new() { ["client_id"] = Env("CLIENT_ID"),
    ["scope"] = Env("SCOPE") });
Console.WriteLine($"Open {Member(begun, "verification_uri")} and type {Member(begun, "user_code")}");
var wait = int.TryParse(Member(begun, "interval"), out var seconds) ? seconds : 5;
while (true) {
    await Task.Delay(wait * 1000);
    var answer = await Post("TOKEN_ENDPOINT",
        new() { ["grant_type"] = "urn:ietf:params:oauth:grant-type:device_code", ["device_code"] = Member(begun,
            "device_code"), ["client_id"] = Env("CLIENT_ID") });
    var error = Member(answer, "error");
    if (error == "slow_down") wait += 5;
    else if (error != "authorization_pending") {
        Console.WriteLine(answer);
        return error == "" ? 0 : 1;
    }
}
