// With the package Microsoft.IdentityModel.JsonWebTokens. dotnet run, with the settings in the environment and the
// private key in the file PRIVATE_KEY (PEM, for ES256). RFC 7523 §2.2.
using System.Security.Cryptography;
using Microsoft.IdentityModel.JsonWebTokens;
using Microsoft.IdentityModel.Tokens;

string Env(string name) => Environment.GetEnvironmentVariable(name) ?? "";
using var key = ECDsa.Create();
key.ImportFromPem(File.ReadAllText(Env("PRIVATE_KEY")));
var assertion = new JsonWebTokenHandler().CreateToken(new SecurityTokenDescriptor {
    Issuer = Env("CLIENT_ID"),
    Audience = Env("TOKEN_ENDPOINT"),
    Claims = new Dictionary<string, object> { ["sub"] = Env("CLIENT_ID"), ["jti"] = Guid.NewGuid().ToString() },
    IssuedAt = DateTime.UtcNow,
    Expires = DateTime.UtcNow.AddMinutes(1),
    SigningCredentials = new SigningCredentials(new ECDsaSecurityKey(key), SecurityAlgorithms.EcdsaSha256),
});
var form = new Dictionary<string, string> {
    ["grant_type"] = "client_credentials", ["scope"] = Env("SCOPE"), ["client_assertion"] = assertion,
    ["client_assertion_type"] = "urn:ietf:params:oauth:client-assertion-type:jwt-bearer",
};
using var http = new HttpClient();
var answer = await http.PostAsync(Env("TOKEN_ENDPOINT"), new FormUrlEncodedContent(form));
Console.WriteLine(await answer.Content.ReadAsStringAsync()); // {"access_token": …, "expires_in": …} or {"error": …}
return answer.IsSuccessStatusCode ? 0 : 1;
