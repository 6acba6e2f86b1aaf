# frozen_string_literal: true

require "socket"

RSpec.describe Yenvo::Engine::Post, :committed, :processes do
  include OutsideWorld

  let(:clock) { Struct.new(:now).new(Database::NOW) }

  after { close_all }

  # @param status [Integer]
  # @return [Yenvo::Engine::Answer]
  def answered(status, body = "said", headers = {})
    url = serve(->(_env) { [status, {"content-type" => "text/plain", **headers}, [body]] })
    post_to.call(url, "{}", {})
  end

  # @yieldparam socket [Socket] of a server that does whatever the block does
  # @return [String] address
  def raw
    server = TCPServer.new("127.0.0.1", 0)
    @raw = Thread.new { loop { Thread.new(server.accept) { |socket| yield socket } } }
    "http://127.0.0.1:#{server.addr[1]}/"
  end

  describe "an answer" do
    {
      200 => "sent", 202 => "sent", 204 => "sent", 301 => "never", 307 => "never", 400 => "never", 401 => "never",
      404 => "never", 410 => "never", 408 => "later", 425 => "later", 429 => "later", 500 => "later", 503 => "later"
    }.each do |status, state|
      it "of #{status} is #{state}" do
        expect(answered(status, (status == 204) ? "" : "said").state).to eq(state)
      end
    end

    it "may ask to wait, in seconds or until a moment" do
      at = (Database::NOW + 90).httpdate
      expect([answered(503, "", "retry-after" => "30").after,
        answered(429, "", "retry-after" => at).after]).to eq([30, 90])
      expect([answered(503, "", "retry-after" => "soon").after, answered(503).after]).to eq([nil, nil])
      expect(answered(503, "", "retry-after" => "99999999").after).to eq(86_400)
    end

    it "is read no further than 64 kB" do
      long = answered(200, "x" * 2_000_000)
      expect([long.state, long.body, long.words]).to match(["sent", nil, /more than 64 kB, which is not read/])
      sent = 0
      url = raw do |socket|
        socket.readpartial(4_096)
        socket.write("HTTP/1.1 200 OK\r\nContent-Length: 1000000000\r\n\r\n")
        loop { sent += socket.write("x" * 65_536) }
      rescue SystemCallError
        nil
      end
      expect(post_to.call(url, "{}", {}).state).to eq("sent")
      expect(sent).to be < 20_000_000
    end

    it "is never unpacked" do
      asked = nil
      url = serve(->(env) { (asked = env["HTTP_ACCEPT_ENCODING"]) && [200, {"content-encoding" => "gzip"}, ["bomb"]] })
      expect([post_to.call(url, "{}", {}).state, asked]).to eq(%w[sent identity])
    end

    it "shows no more than its beginning, without what would break a line" do
      expect(answered(400,
        "no\r\n\u0000\xFF way" + ("!" * 500)).words).to match(/\A127.0.0.1: 400 Bad Request no \? ?way!+\z/)
    end
  end

  it "takes a reason in whatever bytes" do
    # It closes for writing alone and reads on: closing with something unread would reset what was just said.
    url = raw do |socket|
      socket.write("HTTP/1.1 200 \xFF\xFE ja\r\n\r\n\xFFé")
      socket.close_write
      socket.read
    end
    expect(post_to.call(url, "{}", {})).to have_attributes(state: "sent", words: /\A127.0.0.1: 200 /)
  end

  it "does not follow where an answer leads" do
    came = 0
    inner = serve(->(_env) { (came += 1) && [200, {}, ["secret"]] })
    expect(answered(302, "", "location" => inner)).to have_attributes(state: "never", words: /do not follow elsewhere/)
    expect(came).to eq(0)
  end

  describe "somebody who does not answer" do
    before do
      stub_const("Yenvo::Engine::Post::ALL_SECONDS", 0.4)
      stub_const("Yenvo::Engine::Post::OPEN_SECONDS", 0.4)
    end

    it "is given up after a while: never, drop by drop, or not as HTTP" do
      silent = raw { |socket| socket.read }
      dripping = raw do |socket|
        socket.write("HTTP/1.1 200 OK\r\n")
        loop { socket.write("X-A: 1\r\n") && IO.select(nil, nil, nil, 0.05) }
      rescue SystemCallError
        nil
      end
      strange = raw { |socket| socket.write("hello\r\n") && socket.close }
      [silent, dripping, strange].each do |url|
        expect(post_to.call(url, "{}", {})).to have_attributes(state: "later", rest: true, words: /did not answer/)
      end
    end

    it "is away where nobody listens, and where the name leads nowhere" do
      port = free_port
      expect(post_to.call("http://127.0.0.1:#{port}/", "{}", {}).state).to eq("later")
      nowhere = post_to(resolve: ->(_host) { raise SocketError, "no such name" })
      expect(nowhere.call("https://nowhere.example/", "{}", {}).state).to eq("later")
    end
  end
end

RSpec.describe Yenvo::Engine::Outside do
  # @return [String] the address found, or why none is
  def found(*ips, url: "https://hooks.example/x", allowed: [])
    described_class.new(allowed.map { |one| IPAddr.new(one) }, resolve: ->(_host) { ips }).find(URI(url))
  rescue Yenvo::Engine::Outside::Refused => refused
    refused.message
  end

  %w[
    127.0.0.1 127.9.9.9 10.1.2.3 172.16.0.1 172.31.255.255 192.168.1.1 169.254.169.254 100.64.0.1 0.0.0.0 224.0.0.1
    255.255.255.255 ::1 :: fe80::1 fe80::1%eth0 fc00::1 fd12::1 ff02::1 ::ffff:127.0.0.1 ::ffff:10.0.0.1 ::127.0.0.1
    64:ff9b::7f00:1 2002:7f00:1::1 2001:db8::1
  ].each do |ip|
    it "does not go to #{ip}" do
      expect(found(ip)).to match(/\Ahooks.example lies inside the network/)
    end
  end

  it "goes outside, to the first address of all that are outside" do
    expect([found("93.184.215.14"),
      found("2606:2800:21f::1", "93.184.215.14")]).to eq(%w[93.184.215.14 2606:2800:21f::1])
    expect(found("93.184.215.14", "10.0.0.1")).to match(/lies inside the network \(10.0.0.1\)/)
  end

  it "goes inside where it is allowed, and only there" do
    expect(found("10.0.0.5", allowed: ["10.0.0.0/24"], url: "http://office.local/")).to eq("10.0.0.5")
    expect(found("10.0.1.5", allowed: ["10.0.0.0/24"])).to match(/inside the network/)
  end

  it "does not go in the clear over the internet" do
    expect(found("93.184.215.14", url: "http://hooks.example/x")).to match(/would be called in the clear/)
  end

  it "looks a name up once for a call" do
    asked = []
    resolve = ->(host) { (asked << host) && ["93.184.215.14"] }
    described_class.new([], resolve:).find(URI("https://hooks.example/x"))
    expect(asked).to eq(["hooks.example"])
  end
end
