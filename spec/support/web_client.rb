# frozen_string_literal: true

require "rack/test"

# Calls the web side as a signed-in person, and holds every call and every answer to openapi.yaml.
module WebClient
  include Rack::Test::Methods

  class << self
    # @return [#call] the whole web side over the specs' database
    def app(root)
      @app ||= begin
        require "yenvo/web"
        @clock = Database::FixedClock.new(Database::NOW)
        root.secret = settings.session_secret
        house = Yenvo::Web::House.new(root:, clock: @clock, settings:, live: Yenvo::Web::Live.new(root))
        Yenvo::Web::App.build(house, pages: File.expand_path("../fixtures/pages", __dir__))
      end
    end

    attr_reader :clock

    def settings =
      @settings ||=
        Yenvo::Settings.load("DATABASE_URL" => Database.url, "YENVO_SECRET" => "s" * 64, "YENVO_DEMO" => "1")

    def contract = @contract ||= Yenvo::Web::Contract.new(Yenvo::Web::Contract::DOCUMENT)

    # Which calls were made, and what they answered.
    def calls = @calls ||= Set.new
  end

  def app = WebClient.app(root)

  def sign_in(person)
    clear_cookies
    @token = nil
    call(:post, "/api/sign-in", email: "#{person}@fennick.example", password: Yenvo::Settings::DEMO_PASSWORD)
    @token = nil
    self
  end

  # @return [Hash] the parsed answer
  def call(method, path, body = nil, token: csrf, **fields)
    body ||= fields unless fields.empty?
    header "X-CSRF-Token", token
    # As the page sends it: without a body there is no type of one either.
    sent = body.nil? ? {input: ""} : {:input => JSON.generate(body), "CONTENT_TYPE" => "application/json"}
    custom_request(method.to_s.upcase, path, {}, sent)
    hold_to_contract(method, path.split("?").first)
    last_response.body.start_with?("{") ? JSON.parse(last_response.body) : {}
  end

  def get_json(path) = call(:get, path)

  # Tries are counted by the minute of the clock, and one may end in the middle of an example.
  def within_one_minute =
    allow(Rack::Attack.cache).to(receive(:key_and_expiry) { |key, period| ["once:#{key}", period] })

  # @return [String] the cookie of the session at hand, as a browser would send it
  def session_cookie = rack_mock_session.cookie_jar.get_cookie("yenvo").raw

  # @param cookie [String] as +session_cookie+ gave it
  # @return [Integer] what a call by that session is answered with; the one at hand stays
  def status_by(cookie)
    kept = session_cookie
    clear_cookies
    set_cookie(cookie)
    get_json("/api/setup")
    status
  ensure
    clear_cookies
    set_cookie(kept)
    @token = nil
  end

  def status = last_response.status

  private

  def csrf
    @token ||= begin
      get "/api/session"
      JSON.parse(last_response.body)["csrf"]
    end
  end

  def hold_to_contract(method, path)
    operation = WebClient.contract.find(method.to_s, path) or return
    WebClient.calls << [operation.method, operation.path, status]
    return if status >= 500 || [400, 401, 413, 415, 429].include?(status) || !last_response.body.start_with?("{")
    return if status == 403 && !operation.plain["responses"].key?("403")

    expect(WebClient.contract.answer_problems(operation, status, JSON.parse(last_response.body))).to eq([]),
      "#{method} #{path} answered #{status} against its description: #{last_response.body[0, 600]}"
  end
end
