# frozen_string_literal: true

require "puma"
require "yenvo/smtp_server"

# Stand-ins for what is outside, within the process of an example, and addresses that lead to them.
module OutsideWorld
  SECRET = Yenvo::Standins::Street::SECRET
  LOOPBACK = [IPAddr.new("127.0.0.1")].freeze

  # @param app [#call] Rack
  # @return [String] address at which it answers until +close_all+
  def serve(app)
    server = Puma::Server.new(app, nil, log_writer: Puma::LogWriter.null)
    port = server.add_tcp_listener("127.0.0.1", 0).addr[1]
    server.run
    servers << server
    "http://127.0.0.1:#{port}"
  end

  def close_all = servers.each { |server| server.stop(true) }.clear
  def servers = @servers ||= []

  # @return [Yenvo::Engine::Post] that may go to this machine, and knows what the example says of names
  def post_to(allowed: LOOPBACK, resolve: nil) =
    Yenvo::Engine::Post.new(Yenvo::Engine::Outside.new(allowed, resolve:), clock:)

  # @return [String] key
  def an_address(name, way, url, **more)
    given = {"name" => name, "way" => way, "url" => url, **more.transform_keys(&:to_s)}
    key, = root.addresses.write(nil, given, cause: cause("maren"))
    db[:addresses].where(key:).update(secret: SECRET) if way == "call"
    root.forget
    key
  end

  # @return [Yenvo::Engine::Sender]
  def a_sender(mail_port: nil, post: post_to)
    mail = mail_port && Yenvo::Engine::MailWay.new(root, Yenvo::SmtpServer.read("smtp://127.0.0.1:#{mail_port}"))
    ways = {
      "mail" => mail, "board" => Yenvo::Engine::BoardWay.new(root, post),
      "call" => Yenvo::Engine::CallWay.new(root, post, source: "https://yard.example", clock:)
    }.compact
    Yenvo::Engine::Sender.new(root, clock:, ways:, log: SemanticLogger["spec"])
  end
end
