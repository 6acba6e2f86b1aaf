# frozen_string_literal: true

require "logger"
require "stringio"

RSpec.describe "The house" do
  it "answers for health, readiness and metrics without a sign-in" do
    %w[/healthz /readyz].each { |path| expect(JSON.parse(get(path).body)).to eq("ok" => true) }
    expect(get("/metrics").body).to include(
      "yenvo_http_calls_total", "yenvo_waiting_entries 0", "yenvo_late_timer_seconds 0"
    )
    expect(get("/openapi.yaml").body).to start_with("openapi: 3.1.0")
  end

  it "gives the pages of the front end, for every address that is no file" do
    expect([get("/worklist").status, last_response.body]).to match([200, /Yenvo/])
    expect(get("/assets/../../Gemfile").status).to eq(404)
    expect(post("/worklist").status).to eq(404)
  end

  it "has a description that is sound OpenAPI 3.1" do
    expect(JSONSchemer.openapi(Yenvo::Web::Contract::DOCUMENT).validate.map { |error| error["error"] }).to be_empty
  end

  it "refuses every call of its description to somebody who has not signed in" do
    open = %w[/api/session /api/sign-in /api/sign-out /api/opening /api/reset-password /api/forgotten
      /api/change-password /api/otp-auth /api/otp-setup /api/otp-disable /api/recovery-auth /api/recovery-codes]
    WebClient.contract.operations
      .reject { |operation| open.include?(operation.path) }
      .each do |operation|
        call(
          operation.method, operation.path.gsub(/\{\w+\}/, "1"),
          %w[post put patch].include?(operation.method) ? {} : nil
        )
        expect(status).to eq(401), "#{operation.method} #{operation.path} answered #{status}"
      end
  end

  it "says in the setup what records hold and rules are made of" do
    sign_in("hollie")
    setup = get_json("/api/setup")
    expect(setup["kinds"].map { |kind| kind["key"] }).to include("contact", "deal", "ticket", "entry/gear_rounds")
    expect(setup["vocabulary"]["tests"].map { |test| test["name"] }).to match_array(Yenvo::Core::Operators.all.names)
    expect(setup["people"].find { |one| one["key"] == "callum" }).to include("away_until" => "2026-11-28")
  end

  it "asks the database as often for sixty rows as for three" do
    publish(survey_rule)
    owner = make("contact", "title" => "Aldo", "phone" => "+353 555 0147")["id"]
    sign_in("hollie")
    pages = %w[/api/records?kind=deal /api/records?kind=deal&sort=value /api/worklist /api/trail /api/rules]
    counts =
      [3, 57].map do |more|
        more.times do |i|
          make("deal", "title" => "Boat #{i}", "stage" => "survey_booked", "boat_owner" => owner, "value" => i)
        end
        work
        pages.each { |path| get_json(path) }
        pages.map do |path|
          log = StringIO.new
          db.loggers << Logger.new(log)
          get_json(path)
          db.loggers.clear
          log.string.scan(/\) (?:SELECT|UPDATE|INSERT|DELETE)/).size
        end
      end
    # A page that is not full looks for records without a value, too, which is one query more.
    expect(counts[0].zip(counts[1])).to all(satisfy { |few, many| many <= few })
    expect(counts[0]).to all(be_between(3, 15))
  end

  it "reads its settings once, and names all that is wrong with them" do
    expect { Yenvo::Settings.load("PORT" => "many", "YENVO_SECRET" => "short") }.to raise_error(
      Yenvo::Core::Error,
      /DATABASE_URL must be given.*YENVO_SECRET must have at least 64.*PORT must be a number above 0; "many" is none/
    )
    expect(
      Yenvo::Settings.load("DATABASE_URL" => "mysql2://u:hidden@h/d", "YENVO_SECRET" => "s" * 64).inspect
    ).not_to include("hidden")
  end
end
