// Checks access tokens in the API itself, with the package Microsoft.IdentityModel.JsonWebTokens. Run: dotnet run
// TOKEN SCOPE
using Microsoft.IdentityModel.JsonWebTokens;
using Microsoft.IdentityModel.Tokens;

string Env(string name) => Environment.GetEnvironmentVariable(name) ?? "";
using var http = new HttpClient();
// keep it, and fetch it anew when an unknown key id comes
var keys = new JsonWebKeySet(await http.GetStringAsync(Env("JWKS_URI")));
var parameters = new TokenValidationParameters {
    ValidIssuer = Env("ISSUER"),
    ValidAudience = Env("AUDIENCE"),
    ValidTypes = ["at+jwt"],
    ValidAlgorithms = Env("ALGORITHMS").Split(' '),
    IssuerSigningKeys = keys.GetSigningKeys(),
    ClockSkew = TimeSpan.FromSeconds(30),
};
var result = await new JsonWebTokenHandler().ValidateTokenAsync(args[0], parameters);
if (!result.IsValid) {
    Console.WriteLine($"refused: {result.Exception.Message}");
    return 1;
}
if (!$"{result.Claims.GetValueOrDefault("scope")}".Split(' ').Contains(args[1])) {
    Console.WriteLine("refused: insufficient_scope"); // answer 403, not 401
    return 1;
}
Console.WriteLine($"admitted {result.Claims["sub"]}");
return 0;
